<script setup lang="ts">
import type { BuildCost } from '~~/shared/workshop/answers'

defineProps<{ cost: BuildCost; done: boolean }>()
const { money, amount } = usePrint()
const COLUMNS = ['bill', 'usage', 'price', 'yield', 'actual'] as const
const NAMES = {
  bill: 'By the bill',
  usage: 'Usage variance',
  price: 'Price variance',
  yield: 'Yield variance',
  actual: 'Actual',
}
const signed = (minor: string): string => {
  if (minor === '0') {
    return ''
  }
  if (minor.startsWith('-')) {
    return `−${money(minor.slice(1))}`
  }
  return `+${money(minor)}`
}
</script>

<template>
  <UiSheet title="Cost" flush>
    <template #head
      ><span class="text-soft"
        ><template v-if="cost.minutes !== '0'"
          >{{ amount(cost.minutes, 1) }} minutes worked, {{ amount(cost.billMinutes, 1) }} by the bill</template
        ><template v-if="cost.inWork !== '0'"> · {{ money(cost.inWork) }} in work</template></span
      ></template
    >
    <UiLinesTable class="w-full" aria-label="Cost against the bill">
      <thead>
        <tr class="text-left text-fine text-soft">
          <th class="px-3 py-2 font-medium">Component</th>
          <th class="px-3 py-2 text-right font-medium">Bill</th>
          <th class="px-3 py-2 text-right font-medium">Used</th>
          <th v-for="key in COLUMNS" :key="key" class="px-3 py-2 text-right font-medium">{{ NAMES[key] }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="line in cost.lines" :key="line.lineId ?? 0" class="h-9 border-t border-line/60">
          <td class="px-3">{{ line.code || line.name }}</td>
          <td class="px-3 text-right"><UiQty v-if="line.standard" :of="line.standard" :unit="line.symbol" /></td>
          <td class="px-3 text-right"><UiQty v-if="line.used" :of="line.used" :unit="line.symbol" /></td>
          <td
            v-for="key in COLUMNS"
            :key="key"
            class="px-3 text-right tabular-nums"
            :class="key === 'actual' && 'font-semibold'"
          >
            {{ key === 'bill' || key === 'actual' ? money(line[key]) : signed(line[key]) }}
          </td>
        </tr>
      </tbody>
      <tfoot>
        <tr class="h-9 border-t border-line font-semibold">
          <td class="px-3" colspan="3">{{ done ? 'All of it' : 'Until now' }}</td>
          <td v-for="key in COLUMNS" :key="key" class="px-3 text-right tabular-nums" :data-test="`cost-${key}`">
            {{ key === 'bill' || key === 'actual' ? money(cost.total[key]) : signed(cost.total[key]) }}
          </td>
        </tr>
      </tfoot>
    </UiLinesTable>
  </UiSheet>
</template>
