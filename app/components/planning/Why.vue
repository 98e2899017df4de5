<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

const props = defineProps<{ planId: number; orderId: number }>()
const emit = defineEmits<{ close: [] }>()
const { day } = usePrint()
const { data, error } = await useFetch(() => `/api/planning/plans/${props.planId}/why/${props.orderId}`)
const VERB = { buy: 'Buy', make: 'Build', 'break down': 'Break down to get', move: 'Move' } as const
const ruleSays = (d: {
  rule: string
  netRequirement: string
  byRule: string
  ruleSize: string | null
  split: number | null
}): string => {
  const said =
    {
      exact: 'The exact rule: order what is missing, no more.',
      fixed: `The fixed quantity: the least multiple of ${d.ruleSize} that covers ${d.netRequirement} is ${d.byRule}.`,
      cover: `Cover ${d.ruleSize} days: the most that is missing on a day of them, with nothing further ordered, is ${d.byRule}.`,
      'up to': `Filled up to ${d.ruleSize}: ${d.byRule}.`,
      economic: `The economic quantity is ${d.ruleSize}, √(2 × a year's demand × the cost of an order ÷ the cost of holding one for a year); the least multiple of it that covers ${d.netRequirement} is ${d.byRule}.`,
      'least cost': `Of all ways to order in this plan the cheapest, with orders, holding and price, asks for ${d.byRule} here.`,
    }[d.rule] ?? ''
  return d.split ? `${said} More than one order may be for, so it is split into ${d.split}.` : said
}
/** The links of the chain, each with its numbers. */
const chain = computed(() => {
  const d = data.value
  if (!d) {
    return []
  }
  const calendar = {
    name: 'Calendar',
    summary: `${d.leadDays} working ${plural(d.leadDays, 'day', 'days')} ${d.kind === 'move' ? 'on the way' : 'of lead time'} before ${day(d.due)}: release on ${day(d.release)}.${d.lateBy > 0 ? ` It should have been released ${d.lateBy} working ${plural(d.lateBy, 'day', 'days')} ago; ${d.supplier ?? d.from ?? 'the workshop'} can have it there on ${day(d.promised)}.` : ''}`,
  }
  // What is missing has no say in an order that somebody has fixed.
  if (d.fixed) {
    return [
      {
        name: 'Fixed',
        summary: 'Somebody has fixed this order: it stays as it is, whatever is missing. What it needs is planned.',
      },
      calendar,
    ]
  }
  return [
    { name: 'Demand', summary: `On ${day(d.due)}: wanted ${d.demandThatDay}; there before that ${d.balanceBefore}.` },
    {
      name: 'Net requirement',
      summary: `${d.demandThatDay} wanted${d.safety.startsWith('0 ') ? '' : ` + ${d.safety} safety stock to keep`} − ${d.balanceBefore} there${d.pulledIn ? ` − ${d.pulledIn} pulled in to that day` : ''}${d.awaited ? ` − ${d.awaited} on order that comes later` : ''} = ${d.netRequirement} missing.`,
    },
    { name: 'Lot size', summary: ruleSays(d) },
    ...(d.minimum || d.multipleEntered
      ? [
          {
            name: 'Supplier’s terms',
            summary:
              [
                d.minimum && `at least ${d.minimum}`,
                d.multipleEntered && `in steps of ${d.multipleEntered}; ${d.times} of them`,
              ]
                .filter(Boolean)
                .join(', ') + ` make ${d.quantity}.`,
          },
        ]
      : []),
    calendar,
    { name: 'After', summary: `Left at the end of that day: ${d.balanceAfter}.` },
  ]
})
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/20" aria-hidden="true" />
    <div class="fixed inset-y-0 right-0 flex">
      <DialogPanel class="w-[30rem] overflow-y-auto border-l border-line bg-sheet p-5 shadow-xl">
        <UiProblem v-if="error" :text="problemOf(error).detail" />
        <template v-if="data">
          <DialogTitle class="text-lg font-semibold"
            >Why {{ VERB[data.kind].toLowerCase() }} {{ data.quantity }} {{ data.code }}?</DialogTitle
          >
          <p class="mb-4 text-soft">
            {{ data.name }}<template v-if="data.supplier">, from {{ data.supplier }}</template
            ><template v-if="data.from">, from {{ data.from }} to {{ data.site }}</template
            ><template v-else-if="data.site">, at {{ data.site }}</template>
          </p>
          <ol class="mb-6" data-test="why">
            <li v-for="(link, index) in chain" :key="link.name" class="relative flex gap-3 pb-3">
              <span class="flex flex-col items-center"
                ><GoodsBlock
                  :state="
                    link.name === 'Net requirement'
                      ? 'missing'
                      : link.name === 'After'
                        ? 'on hand'
                        : data.kind === 'buy' || data.kind === 'move'
                          ? 'coming planned'
                          : 'making planned'
                  "
                  class="mt-0.5 h-4 w-6 shrink-0" /><span
                  v-if="index < chain.length - 1"
                  class="mt-1 w-px flex-1 bg-line"
              /></span>
              <span
                ><b class="font-semibold">{{ link.name }}</b
                ><br />{{ link.summary }}</span
              >
            </li>
          </ol>
          <h3 class="mb-1 font-semibold">Who it is for</h3>
          <PlanningReasons v-if="data.reasons.length" :reasons="data.reasons" />
          <p v-else class="text-soft">No order or forecast asks for it: it keeps the safety stock.</p>
        </template>
        <UiButton class="mt-[1.45rem]" @click="emit('close')">Close</UiButton>
      </DialogPanel>
    </div>
  </Dialog>
</template>
