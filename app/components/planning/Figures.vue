<script setup lang="ts">
import type { PlanFigures } from '~~/core/planning'

/** What a plan comes to, in a line; with what it was before, each as before → after. */
const props = defineProps<{ figures: PlanFigures; before?: PlanFigures | null }>()
const { day, money } = usePrint()
const spent = (of: PlanFigures): number => of.spend.reduce((sum, one) => sum + one.amount, 0)
const facts = computed(() => {
  const read = (of: PlanFigures): [name: string, text: string][] => [
    ['Items that would run short', String(of.holes)],
    ['First on', of.firstHole ? day(of.firstHole) : 'none'],
    ['Planned orders', String(of.orders.buy + of.orders.make + of.orders.breakDown + of.orders.move)],
    ['Late', String(of.late)],
    ['Wanted lines in time', `${of.inTime} of ${of.lines}`],
    ['To be bought', money(BigInt(spent(of)))],
  ]
  const before = props.before ? read(props.before) : null
  return read(props.figures).map(([name, text], at) => ({
    name,
    text,
    was: before && before[at]![1] !== text ? before[at]![1] : null,
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
