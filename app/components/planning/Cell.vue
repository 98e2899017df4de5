<script setup lang="ts">
import type { BoardCell } from '~/composables/use-board'

const props = defineProps<{ cell: BoardCell, top: number, bottom: number, safety: number, source: string }>()
const HEIGHT = 46
const y = (value: number): number => 2 + (props.top - value) / (props.top - props.bottom) * (HEIGHT - 4)
const zero = computed(() => y(0))
const supply = computed(() => props.source === 'bought' ? 'var(--willow)' : 'var(--slate)')
/** What would be there without any planned order: a block above the line, a hole below it. */
const bare = computed(() => props.cell.withoutOrders)
</script>

<template>
  <svg :viewBox="`0 0 64 ${HEIGHT}`" preserveAspectRatio="none" class="block h-[46px] w-full" aria-hidden="true">
    <line x1="0" x2="64" :y1="zero" :y2="zero" stroke="var(--line)" />
    <line v-if="safety > 0" x1="0" x2="64" :y1="y(safety)" :y2="y(safety)" stroke="var(--ink)" stroke-width="1" stroke-dasharray="1 3" />
    <rect v-if="bare > 0" x="8" :y="y(bare)" width="26" :height="Math.max(1, zero - y(bare))" rx="2" fill="var(--maple)" />
    <rect v-if="bare < 0" x="8" :y="zero" width="26" :height="Math.max(2, y(bare) - zero)" rx="2" fill="none" stroke="var(--brick)" stroke-width="1.5" stroke-dasharray="4 2" vector-effect="non-scaling-stroke" />
    <rect v-if="cell.scheduledReceipts > 0" x="37" :y="Math.min(zero - 3, y(cell.scheduledReceipts))" width="9" :height="Math.max(3, zero - y(cell.scheduledReceipts))" rx="1" :fill="supply" />
    <rect v-if="cell.plannedReceipts > 0" x="48" :y="Math.min(zero - 4, y(cell.plannedReceipts))" width="10" :height="Math.max(4, zero - y(cell.plannedReceipts))" rx="1" fill="none" :stroke="supply" stroke-width="1.5" vector-effect="non-scaling-stroke" />
  </svg>
</template>
