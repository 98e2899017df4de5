<script setup lang="ts">
import { sourceOf, type PlannedOrder } from '~/composables/planning/planned-orders'

const props = defineProps<{ planId: number; order: PlannedOrder }>()
const emit = defineEmits<{ close: [] }>()
const { digits } = usePrint()
const VERB: Readonly<Record<string, string>> = {
  buy: 'buy',
  make: 'build',
  'break down': 'break down to get',
  move: 'move',
}
const title = computed(() => {
  const { kind, quantity, symbol, code } = props.order
  return `Why ${VERB[kind]} ${digits(quantity)} ${symbol} ${code}?`
})
</script>

<template>
  <UiSideSheet :title="title" @close="emit('close')">
    <p class="mb-4 text-soft">
      {{ [order.name, sourceOf(order)].filter(Boolean).join(', ') }}
    </p>
    <Suspense><PlanningWhyChain :plan-id="planId" :order-id="order.id" /></Suspense>
  </UiSideSheet>
</template>
