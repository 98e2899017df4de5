<script setup lang="ts">
import type { BuildAnswer, BuildLineAnswer, Remedy } from '~~/shared/workshop/answers'

const props = defineProps<{ build: BuildAnswer; mayAct: boolean; busy: boolean }>()
const emit = defineEmits<{ remedy: [line: BuildLineAnswer, remedy: Remedy]; instead: [line: BuildLineAnswer] }>()
const { day, amount } = usePrint()
const isOpen = computed(() => ['draft', 'ready', 'started'].includes(props.build.status))
const anyUsed = computed(() => props.build.components.some((line) => line.used !== '0'))
/** Where the rest comes from, in a few words; the whole list stands in the pick list. */
const from = (line: BuildLineAnswer): string =>
  line.takes
    .map((take) =>
      [take.bin, take.piece, take.lot && `lot ${take.lot}`, take.expiresOn && `until ${day(take.expiresOn)}`]
        .filter(Boolean)
        .join(', '),
    )
    .join(' · ')
function describe(remedy: Remedy, line: BuildLineAnswer): string {
  switch (remedy.kind) {
    case 'substitute':
      return `Use ${amount(remedy.covers, 4)} ${remedy.symbol} ${remedy.code} instead`
    case 'break down':
      return `Break down ${amount(remedy.take, 4)} ${remedy.symbol} ${remedy.code}${remedy.there ? '' : ' (not there either)'}`
    case 'build':
      return `Build ${amount(remedy.quantity, 4)} ${line.symbol} of it`
    case 'transfer':
      return `Bring it from ${remedy.site}: ${amount(remedy.free, 4)} ${line.symbol} free`
    case 'buy':
      return `Buy ${remedy.itemId === line.itemId ? '' : `${remedy.code} `}from ${remedy.supplier}, ${remedy.days} working days`
  }
}
</script>

<template>
  <UiLinesTable class="w-full" aria-label="Components">
    <thead>
      <tr class="text-left text-fine text-soft">
        <th class="px-3 py-2 font-medium">Component</th>
        <th class="px-3 py-2 text-right font-medium">Required</th>
        <th v-if="anyUsed" class="px-3 py-2 text-right font-medium">Used</th>
        <th v-if="isOpen" class="px-3 py-2 text-right font-medium">Still needed</th>
        <th v-if="isOpen" class="px-3 py-2 font-medium">From</th>
        <th class="w-8" />
      </tr>
    </thead>
    <tbody v-for="line in build.components" :key="line.id" class="border-t border-line/60">
      <tr class="h-10">
        <td class="px-3">
          <UiItemChip :id="line.itemId" :code="line.code" :name="line.name" /><span
            v-if="line.forCode"
            class="ml-2 text-fine text-soft"
            >instead of {{ line.forCode }}</span
          ><span v-else-if="line.byHand" class="ml-2 text-fine text-soft">changed for this job</span>
        </td>
        <td class="px-3 py-1 text-right leading-tight whitespace-nowrap">
          <UiQty strong :of="line.need" :unit="line.symbol" /><span
            v-if="line.unitSymbol !== line.symbol"
            class="block text-fine text-soft"
            >{{ line.inUnit }} {{ line.unitSymbol }}</span
          >
        </td>
        <td v-if="anyUsed" class="px-3 py-1 text-right leading-tight whitespace-nowrap">
          <UiQty :of="line.used" :unit="line.symbol" /><span
            v-if="line.scrapped !== '0'"
            class="block text-fine text-soft"
            >of it spoiled {{ amount(line.scrapped, 4) }}</span
          >
        </td>
        <td v-if="isOpen" class="px-3 text-right whitespace-nowrap">
          <span class="inline-flex items-center gap-2"
            ><GoodsBlock
              v-if="line.next !== '0'"
              :state="line.missing !== '0' ? 'missing' : line.allocated !== '0' ? 'allocated' : 'on hand'"
              class="h-3.5 w-6" /><UiQty :of="line.next" :unit="line.symbol"
          /></span>
          <span v-if="line.allocated !== '0' && line.allocated !== line.next" class="block text-fine text-soft"
            >{{ amount(line.allocated, 4) }} set aside</span
          >
        </td>
        <td v-if="isOpen" class="px-3 text-soft">{{ from(line) }}</td>
        <td class="px-2 text-right">
          <UiButton
            v-if="isOpen && mayAct && line.next !== '0'"
            small
            :aria-label="`Something else instead of ${line.code}`"
            title="Use a substitute"
            @click="emit('instead', line)"
            >⇄</UiButton
          >
        </td>
      </tr>
      <tr v-if="line.missing !== '0' && isOpen">
        <td :colspan="anyUsed ? 6 : 5" class="px-3 pb-2.5">
          <span class="flex flex-wrap items-center gap-2"
            ><b class="font-semibold text-brick" data-test="missing"
              >{{ amount(line.missing, 6) }} {{ line.symbol }} missing</b
            >
            <template v-if="mayAct"
              ><UiButton
                v-for="(remedy, index) in line.remedies"
                :key="index"
                small
                :busy="busy"
                @click="emit('remedy', line, remedy)"
                >{{ describe(remedy, line) }}</UiButton
              ></template
            >
            <span v-if="line.remedies.length === 0" class="text-soft"
              >No substitute, bill, bulk item, other site or supplier is known for it.</span
            >
          </span>
        </td>
      </tr>
    </tbody>
  </UiLinesTable>
</template>
