<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { BuildableAnswer, BuildableUse } from '~~/shared/structure/answers'

const props = defineProps<{ item: ItemName }>()
interface Wanted {
  itemId: number | null
  shown: ItemName | null
  quantity: string
}
const wanted = ref<Wanted[]>([{ itemId: props.item.id, shown: props.item, quantity: '1' }])
const { detail, fields, run, busy } = useAct({ latest: true })
const answer = ref<BuildableAnswer | null>(null)
const body = computed(() => ({
  wanted: wanted.value
    .filter((item) => item.itemId !== null && item.quantity.trim() !== '')
    .map(({ itemId, quantity }) => ({ itemId, quantity })),
}))
async function ask(): Promise<void> {
  if (body.value.wanted.length > 0) {
    answer.value = await run(() =>
      $fetch<BuildableAnswer>('/api/structure/buildable', { method: 'POST', body: body.value }),
    )
  }
}
watch(body, ask, { deep: true })
await ask()
const together = computed(() => (answer.value?.wanted.length ?? 0) > 1)
async function keep(format: 'csv' | 'xlsx'): Promise<void> {
  saveBlob(
    await $fetch<Blob>('/api/structure/buildable', {
      method: 'POST',
      body: { ...body.value, format },
      responseType: 'blob',
    }),
    `buildable-now.${format}`,
  )
}
const width = (use: BuildableUse): string =>
  `${Math.min(100, Number(use.need) === 0 ? 0 : (Number(use.fromStock) / Number(use.need)) * 100)}%`
</script>

<template>
  <div class="grid items-start gap-4 grid-cols-1 md:grid-cols-[22rem_minmax(0,1fr)]">
    <UiSheet title="What you want to make">
      <p class="mb-3 text-fine text-soft">
        Several make a set: what they share is counted once. What lies there of them already is not counted.
      </p>
      <div v-for="(part, index) in wanted" :key="index" class="mb-2 grid grid-cols-[1fr_5rem_auto] gap-2">
        <UiItemField
          v-model="part.itemId"
          :shown="part.shown"
          :label="`Wanted ${index + 1}`"
          hide-label
          :error="fields[`wanted.${index}.itemId`]"
        /><UiTextField
          v-model="part.quantity"
          :label="`So many of wanted ${index + 1}`"
          hide-label
          right
          :error="fields[`wanted.${index}.quantity`]"
        />
        <UiButton v-if="wanted.length > 1" aria-label="Take it out" @click="wanted.splice(index, 1)">×</UiButton>
      </div>
      <UiButton small @click="wanted.push({ itemId: null, shown: null, quantity: '1' })">And another</UiButton>
    </UiSheet>
    <UiSheet>
      <UiProblem v-if="detail && !Object.keys(fields).length" :text="detail" />
      <template v-else-if="answer">
        <div class="mb-4 flex items-start justify-between gap-4">
          <div aria-live="polite">
            <p class="text-2xl font-semibold" data-answer>
              {{ together ? `${answer.sets} ${answer.sets === '1' ? 'set' : 'sets'}` : ''
              }}<template v-if="!together"
                ><UiQty :of="answer.wanted[0]!.can" :unit="answer.wanted[0]!.symbol"
              /></template>
            </p>
            <p class="text-soft">
              can be made now of what is free<template v-for="part in answer.wanted" :key="part.itemId"
                >{{ together ? ` · ${part.can} ${part.symbol} ${part.code}` : ''
                }}<template v-if="part.onHand !== '0'">
                  · {{ part.onHand }} {{ part.symbol }} {{ together ? part.code : '' }} lie there beside</template
                ></template
              >
            </p>
          </div>
          <span class="flex gap-2 text-fine"
            ><button type="button" class="text-soft underline" @click="keep('csv')">CSV</button
            ><button type="button" class="text-soft underline" @click="keep('xlsx')">XLSX</button></span
          >
        </div>
        <h3 class="mb-1 font-semibold">{{ together ? 'The next set lacks' : 'One more lacks' }}</h3>
        <ul class="mb-4 grid gap-1">
          <li
            v-for="use in answer.next"
            :key="use.itemId"
            class="grid grid-cols-1 md:grid-cols-[1fr_9rem_16rem] items-center gap-3 rounded-block border-2 border-dashed border-brick px-3 py-1.5"
          >
            <UiItemChip :id="use.itemId" :code="use.code" :name="use.name" /><span class="text-right"
              ><UiQty :of="use.missing" :unit="use.symbol" strong :decimals="6" /> missing</span
            ><span class="text-right text-fine text-soft"
              >needs <UiQty :of="use.need" :unit="use.symbol" :decimals="6" />, free
              <UiQty :of="use.free" :unit="use.symbol" :decimals="6"
            /></span>
          </li>
        </ul>
        <h3 v-if="answer.uses.length" class="mb-1 font-semibold">Components</h3>
        <UiLinesTable v-if="answer.uses.length" class="w-full" aria-label="Components">
          <thead>
            <tr class="text-left text-fine text-soft">
              <th class="py-1 font-medium">Item</th>
              <th class="py-1 text-right font-medium">Needed</th>
              <th class="py-1 text-right font-medium">From stock</th>
              <th class="py-1 text-right font-medium">Made along</th>
              <th class="w-40 py-1 pl-4 font-medium"><span class="sr-only">Share from stock</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="use in answer.uses" :key="use.itemId" class="border-t border-line/60">
              <td class="py-1"><UiItemChip :id="use.itemId" :code="use.code" :name="use.name" /></td>
              <td class="py-1 text-right"><UiQty :of="use.need" :unit="use.symbol" :decimals="6" /></td>
              <td class="py-1 text-right"><UiQty :of="use.fromStock" :unit="use.symbol" :decimals="6" /></td>
              <td class="py-1 text-right">
                <UiQty v-if="use.made !== '0'" :of="use.made" :unit="use.symbol" :decimals="6" /><span
                  v-if="use.made !== '0' && use.comesFrom"
                  class="text-fine text-soft"
                >
                  of {{ use.comesFrom }}</span
                >
              </td>
              <td class="py-1 pl-4">
                <span class="flex h-3 overflow-hidden rounded-block border border-slate"
                  ><span class="bg-maple" :style="{ width: width(use) }"
                /></span>
              </td>
            </tr>
          </tbody>
        </UiLinesTable>
      </template>
      <p v-else-if="busy" class="text-soft">Counting …</p>
    </UiSheet>
  </div>
</template>
