<script setup lang="ts">
import { SCRAP_REASONS } from '~~/shared/workshop/words'
import type { BuildLineAnswer } from '~~/shared/workshop/answers'
import type { BuildUses } from '~/composables/workshop/use-build-uses'

const props = defineProps<{
  components: readonly BuildLineAnswer[]
  uses: BuildUses
  fields: Record<string, string>
}>()
const { day, amount } = usePrint()
const { rows, byBill, takesOf, isNamed, name } = props.uses
const choicesOf = (line: BuildLineAnswer) => [
  { value: null, name: 'by the order of picking' },
  ...line.choices.map((choice) => ({
    value: choice.balanceId,
    name: `${[choice.bin, choice.piece, choice.lot, choice.expiresOn && `until ${day(choice.expiresOn)}`].filter(Boolean).join(', ')}: ${amount(choice.free, 6)} ${line.symbol}`,
  })),
]
</script>

<template>
  <UiLinesTable class="w-full" aria-label="Components">
    <thead>
      <tr class="text-left text-fine text-soft">
        <th class="py-1 font-medium">Component</th>
        <th class="px-3 py-1 text-right font-medium">Takes</th>
        <th class="px-3 py-1 font-medium">From</th>
        <th class="px-3 py-1 font-medium">Lot</th>
        <th class="px-3 py-1 text-right font-medium">There before → after</th>
        <th />
      </tr>
    </thead>
    <tbody v-for="line in components" :key="line.id" class="border-t border-line/60">
      <template v-if="!isNamed(line)">
        <tr v-for="(take, index) in takesOf(line)" :key="index" class="h-9">
          <td>
            <template v-if="index === 0"
              ><b class="font-medium">{{ line.code }}</b> <span class="text-soft">{{ line.name }}</span></template
            >
          </td>
          <td class="px-3 text-right whitespace-nowrap"><UiQty strong :of="take.quantity" :unit="line.symbol" /></td>
          <td v-if="take.missing" colspan="3" class="px-3 font-medium text-brick">missing</td>
          <td v-else-if="take.bin === ''" colspan="3" />
          <template v-else
            ><td class="px-3">{{ take.bin }}</td>
            <td class="px-3">
              {{ [take.piece, take.lot].filter(Boolean).join(', ')
              }}<span v-if="take.expiresOn" class="text-soft"> until {{ day(take.expiresOn) }}</span>
            </td>
            <td class="px-3 text-right whitespace-nowrap">
              <UiChange :before="amount(take.before, 6)" :after="amount(take.after, 6)" :unit="line.symbol" /></td
          ></template>
          <td class="text-right whitespace-nowrap">
            <template v-if="index === 0"
              ><UiButton small :aria-label="`Other than the bill: ${line.code}`" @click="name(line)">Other</UiButton
              >{{ ' ' }}
              <UiButton small :aria-label="`Spoiled: ${line.code}`" @click="name(line, 'damaged')"
                >Spoiled</UiButton
              ></template
            >
          </td>
        </tr>
      </template>
      <tr v-for="row in rows.filter((row) => row.line.id === line.id)" :key="rows.indexOf(row)" class="align-top">
        <td class="pt-3 pr-3">
          <b class="font-medium">{{ line.code }}</b>{{ ' ' }}
          <span class="text-soft">{{
            row.scrap === '' ? `used; by the bill ${amount(byBill(line), 6)} ${line.symbol}` : 'spoiled'
          }}</span>
        </td>
        <td colspan="2" class="w-52 py-1.5 pl-3">
          <UiQuantityField
            v-model="row.quantity"
            v-model:unit="row.unit"
            :label="`${row.scrap === '' ? 'Used' : 'Spoiled'} of ${line.code}`"
            hide-label
            :item="row.measured"
            :error="fields[`uses.${rows.indexOf(row)}.quantity`]"
          />
        </td>
        <td colspan="3" class="py-1.5 pl-3">
          <div class="flex gap-2">
            <UiChoice
              v-model="row.balanceId"
              class="min-w-0 flex-1"
              :label="`${line.code} out of`"
              hide-label
              :options="choicesOf(line)"
            /><UiChoice
              v-if="row.scrap !== ''"
              v-model="row.scrap"
              class="w-28"
              :label="`Why ${line.code} was spoiled`"
              hide-label
              :options="SCRAP_REASONS.map((reason) => ({ value: reason, name: reason }))"
            /><template v-else
              ><UiButton
                small
                class="mt-1"
                :aria-label="`${line.code}: another lot as well`"
                title="Another lot as well"
                @click="name(line)"
                >+</UiButton
              ><UiButton small class="mt-1" :aria-label="`Spoiled: ${line.code}`" @click="name(line, 'damaged')"
                >Spoiled</UiButton
              ></template
            ><UiButton
              small
              class="mt-1"
              :aria-label="`${line.code}: leave this out`"
              @click="rows.splice(rows.indexOf(row), 1)"
              >×</UiButton
            >
          </div>
        </td>
      </tr>
    </tbody>
  </UiLinesTable>
</template>
