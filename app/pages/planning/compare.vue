<script setup lang="ts">
const route = useRoute()
const session = useSession()
const { day, money } = usePrint()
const { data, error } = await useFetch('/api/planning/compare', { query: { plans: String(route.query.plans ?? '') } })
useHead({ title: 'Compare plans · Tsumiki' })

type Plan = NonNullable<typeof data.value>['plans'][number]
const last = (plan: Plan): number => plan.stock.at(-1)?.amount ?? 0
const total = (plan: Plan): number => plan.spend.reduce((sum, expense) => sum + expense.amount, 0)
/** A line of the comparison; `good`: whether more or less is better, where one can say. */
const LINES: readonly {
  name: string
  of: (plan: Plan) => number | string
  print?: (value: number) => string
  good?: 'more' | 'less'
}[] = [
  { name: 'Looks ahead to', of: (plan) => day(plan.endsOn) },
  { name: 'Changes tried out', of: (plan) => plan.changes },
  { name: 'Items that would run short', of: (plan) => plan.holes, good: 'less' },
  { name: 'First of them on', of: (plan) => (plan.firstShortage ? day(plan.firstShortage) : 'none') },
  { name: 'Short in spite of the plan', of: (plan) => plan.short, good: 'less' },
  { name: 'To buy', of: (plan) => plan.orders.buy },
  { name: 'To build', of: (plan) => plan.orders.make },
  { name: 'To break down', of: (plan) => plan.orders.breakDown },
  { name: 'Late orders', of: (plan) => plan.late, good: 'less' },
  {
    name: 'Order lines in time',
    of: (plan) => (plan.lines === 0 ? 100 : Math.round((plan.inTime / plan.lines) * 1000) / 10),
    print: (value) => `${value} %`,
    good: 'more',
  },
]
const COST_LINES: typeof LINES = [
  { name: 'To be bought for', of: total, print: (value) => money(BigInt(value)) },
  { name: 'Stock is worth at the end', of: last, print: (value) => money(BigInt(value)) },
]
const rows = computed(() =>
  [...LINES, ...(session.allows('costs') ? COST_LINES : [])].map((line) => {
    const values = (data.value?.plans ?? []).map((plan) => line.of(plan))
    const numbers = values.filter((value): value is number => typeof value === 'number')
    let best
    if (line.good && new Set(numbers).size > 1) {
      if (line.good === 'more') {
        best = Math.max(...numbers)
      } else {
        best = Math.min(...numbers)
      }
    } else {
      best = null
    }
    return {
      name: line.name,
      cells: values.map((value) => ({
        text: typeof value === 'number' && line.print ? line.print(value) : String(value),
        best: value === best,
      })),
    }
  }),
)
</script>

<template>
  <div>
    <UiHead title="Plans side by side" summary="The same questions, answered by each."
      ><UiButton @click="navigateTo('/planning')">All plans</UiButton></UiHead
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <template v-else-if="data">
      <UiSheet flush class="mb-3">
        <UiLinesTable class="w-full" aria-label="Plans side by side">
          <thead>
            <tr class="border-b border-line text-left">
              <th class="w-64 px-4 py-2" />
              <th v-for="plan in data.plans" :key="plan.id" class="px-4 py-2 text-right font-semibold">
                <NuxtLink :to="`/planning/${plan.id}`" class="hover:underline">{{ plan.name }}</NuxtLink>{{ ' ' }}
                <UiTag :tone="plan.kind === 'working' ? 'good' : 'plain'">{{ plan.kind }}</UiTag>
                <span v-if="plan.isOlder" class="block text-fine font-normal text-soft"
                  >as it was: it is being computed anew</span
                >
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.name" class="border-b border-line/60 last:border-0">
              <th scope="row" class="px-4 py-1.5 text-left font-normal text-soft">{{ row.name }}</th>
              <td
                v-for="(cell, index) in row.cells"
                :key="index"
                class="px-4 text-right"
                :class="cell.best && 'font-semibold text-willow'"
              >
                {{ cell.text }}<span v-if="cell.best" class="sr-only"> (better)</span>
              </td>
            </tr>
          </tbody>
        </UiLinesTable>
      </UiSheet>
      <PlanningSpend :plans="data.plans" :suppliers="data.suppliers" />
    </template>
  </div>
</template>
