<script setup lang="ts">
import { MINOR_PER_MAJOR } from '~~/core/money'
import type { PlanFigures } from '~~/core/planning/what-if'

/** What is to be bought and what stock would be worth, week by week; of one plan or of several. */
const props = defineProps<{
  plans: readonly ({ name: string } & PlanFigures)[]
  suppliers?: Readonly<Record<string, string>>
  near?: readonly { itemId: number; code: string; quantity: string; more: string; costNow: number; costThen: number }[]
}>()
const { day, money, digits } = usePrint()
const references = useReferences()
const supplierName = (id: string): string =>
  props.suppliers?.[id] ?? references.suppliers.find((amount) => amount.id === Number(id))?.name ?? id
const weeks = computed(() =>
  [...new Set(props.plans.flatMap((plan) => plan.stock.map((amount) => amount.week)))].sort(),
)
const spentIn = (plan: PlanFigures, week: string, supplier?: string): number =>
  plan.spend.reduce(
    (sum, amount) =>
      amount.week === week && (supplier === undefined || amount.supplier === supplier) ? sum + amount.amount : sum,
    0,
  )
const spend = computed(() =>
  props.plans.map((plan) => ({
    name: plan.name,
    data: weeks.value.map((week) => spentIn(plan, week) / MINOR_PER_MAJOR),
  })),
)
const stock = computed(() =>
  props.plans.map((plan) => ({
    name: plan.name,
    data: weeks.value.map((week) =>
      Math.round((plan.stock.find((amount) => amount.week === week)?.amount ?? 0) / MINOR_PER_MAJOR),
    ),
  })),
)
const rows = computed(() =>
  props.plans.flatMap((plan) =>
    [...new Set(plan.spend.map((amount) => amount.supplier))]
      .map((supplier) => ({
        plan: plan.name,
        supplier,
        total: plan.spend.reduce((sum, amount) => (amount.supplier === supplier ? sum + amount.amount : sum), 0),
        by: weeks.value.map((week) => spentIn(plan, week, supplier)),
      }))
      .sort((a, b) => b.total - a.total),
  ),
)
const used = computed(() =>
  weeks.value
    .map((week, index) => ({ week, at: index }))
    .filter(({ at: index }) => rows.value.some((row) => row.by[index]! > 0)),
)
const colors = ['willow', 'slate', 'plum', 'maple']
// Every other week is named where there are many.
const axis = computed(() => ({
  xaxis: {
    categories: weeks.value.map((week, index) => (weeks.value.length > 8 && index % 2 === 1 ? '' : day(week))),
    labels: { rotate: 0 },
  },
  yaxis: { labels: { formatter: (value: number) => digits(String(value)) } },
}))
</script>

<template>
  <div class="grid gap-3">
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiSheet
        ><h2 class="font-semibold">To be bought, by the week of ordering</h2>
        <UiChart label="To be bought, by week" :series="spend" :options="{ chart: { type: 'bar' }, colors, ...axis }"
      /></UiSheet>
      <UiSheet
        ><h2 class="font-semibold">What stock would be worth at the end of each week</h2>
        <UiChart
          label="Stock value, by week"
          :series="stock"
          :options="{
            chart: { type: 'line' },
            colors,
            stroke: { width: 2, curve: 'stepline' },
            ...axis,
            yaxis: { ...axis.yaxis, min: 0 },
          }"
      /></UiSheet>
    </div>
    <UiSheet v-if="near?.length" flush>
      <h2 class="border-b border-line px-4 py-2 font-semibold">A little more reaches a lower price</h2>
      <ul aria-label="A little more reaches a lower price">
        <li
          v-for="(tier, index) in near"
          :key="index"
          class="flex items-center gap-3 border-b border-line/60 px-4 py-1.5 last:border-0"
        >
          <UiItemChip :id="tier.itemId" :code="tier.code" /><span
            >{{ tier.quantity }} for {{ money(BigInt(tier.costNow)) }}; {{ tier.more }} more, and it is
            {{ money(BigInt(tier.costThen)) }}:
            <b>{{
              tier.costThen <= tier.costNow
                ? `${money(BigInt(tier.costNow - tier.costThen))} less in all`
                : `${money(BigInt(tier.costThen - tier.costNow))} for what is more`
            }}</b></span
          >
        </li>
      </ul>
    </UiSheet>
    <UiSheet flush>
      <div class="overflow-x-auto">
        <UiLinesTable is-grid class="w-full" aria-label="Spend by supplier and week">
          <thead>
            <tr class="text-fine text-soft">
              <th class="px-4 py-2 text-left font-medium">Supplier</th>
              <th v-if="plans.length > 1" class="text-left font-medium">Plan</th>
              <th v-for="week in used" :key="week.week" class="px-2 text-right font-medium whitespace-nowrap">
                {{ day(week.week) }}
              </th>
              <th class="px-4 text-right font-medium">In all</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="`${row.plan} ${row.supplier}`" class="border-t border-line/60">
              <td class="px-4 py-1.5 whitespace-nowrap">{{ supplierName(row.supplier) }}</td>
              <td v-if="plans.length > 1" class="text-soft">{{ row.plan }}</td>
              <td v-for="week in used" :key="week.week" class="px-2 text-right">
                {{ row.by[week.at] ? money(BigInt(row.by[week.at]!)) : '' }}
              </td>
              <td class="px-4 text-right font-semibold">{{ money(BigInt(row.total)) }}</td>
            </tr>
          </tbody>
        </UiLinesTable>
      </div>
      <UiEmptyState
        v-if="rows.length === 0"
        title="Nothing to buy"
        summary="Within this plan everything wanted is there, coming, or made from what is."
      />
    </UiSheet>
  </div>
</template>
