<script setup lang="ts">
import type { PlanFigures } from '~~/core/planning/what-if'

/** What a plan comes to, in a line; with what it was before, each as before → after. */
const props = defineProps<{ figures: PlanFigures; before?: PlanFigures | null }>()
const session = useSession()
const { day, money } = usePrint()
const spent = (figures: PlanFigures): number => figures.spend.reduce((sum, expense) => sum + expense.amount, 0)
const facts = computed(() => {
  const read = (figures: PlanFigures): [name: string, text: string][] => [
    ['Items that would run short', String(figures.holes)],
    ['First on', figures.firstShortage ? day(figures.firstShortage) : 'none'],
    [
      'Planned orders',
      String(figures.orders.buy + figures.orders.make + figures.orders.breakDown + figures.orders.move),
    ],
    ['Late', String(figures.late)],
    ['Order lines in time', `${figures.inTime} of ${figures.lines}`],
    ...(session.allows('costs') ? [['To be bought', money(BigInt(spent(figures)))] as [string, string]] : []),
  ]
  const before = props.before ? read(props.before) : null
  return read(props.figures).map(([name, text], index) => ({
    name,
    text,
    was: before && before[index]![1] !== text ? before[index]![1] : null,
  }))
})
</script>

<template>
  <dl class="flex flex-wrap gap-x-6 gap-y-1 text-fine" aria-label="What the plan comes to">
    <div v-for="fact in facts" :key="fact.name" class="flex items-baseline gap-1.5">
      <dt class="text-soft">{{ fact.name }}</dt>
      <dd class="font-semibold" :class="fact.was !== null && 'rounded-block bg-maple/15 px-1'">
        <span v-if="fact.was !== null" class="font-normal text-soft">{{ fact.was }} → </span>{{ fact.text }}
      </dd>
    </div>
  </dl>
</template>
