<script setup lang="ts">
import type { BoardCell } from '~/composables/use-board'

const props = defineProps<{ cell: BoardCell, top: number, bottom: number, safety: number, way: string }>()
const HEIGHT = 46
const y = (value: number): number => 2 + (props.top - value) / (props.top - props.bottom) * (HEIGHT - 4)
const zero = computed(() => y(0))
const supply = computed(() => props.way === 'buy' || props.way === 'move' ? 'var(--willow)' : 'var(--slate)')
/** The part of the balance that is real, and the part that rests on planned orders. */
const real = computed(() => Math.max(0, Math.min(props.cell.withoutOrders, props.cell.projectedAvailable)))
const planned = computed(() => Math.max(0, props.cell.projectedAvailable) - real.value)
/** What falls newly short in this span: the hole that planned orders fill. */
const hole = computed(() => props.cell.netRequirements)
const bar = (from: number, to: number, least: number): { y: number, height: number } => { const height = Math.max(least, y(from) - y(to)); return { y: y(from) - height, height } }
</script>

<template>
  <svg :viewBox="`0 0 64 ${HEIGHT}`" preserveAspectRatio="none" class="block h-[46px] w-full" aria-hidden="true">
    <line x1="0" x2="64" :y1="zero" :y2="zero" stroke="var(--line)" />
    <line v-if="safety > 0" x1="0" x2="64" :y1="y(safety)" :y2="y(safety)" stroke="var(--ink)" stroke-width="1" stroke-dasharray="1 3" />
    <rect v-if="real > 0" x="8" v-bind="bar(0, real, 1.5)" width="24" rx="2" fill="var(--maple)" />
    <rect v-if="planned > 0" x="8" v-bind="bar(real, real + planned, 2)" width="24" rx="2" fill="none" stroke="var(--maple)" stroke-width="1.5" vector-effect="non-scaling-stroke" />
    <rect v-if="hole > 0" x="8" :y="zero" width="48" :height="Math.max(4, y(-hole) - zero)" rx="2" fill="none" stroke="var(--brick)" stroke-width="1.5" stroke-dasharray="4 2" vector-effect="non-scaling-stroke" />
    <rect v-if="cell.scheduledReceipts > 0" x="35" v-bind="bar(0, cell.scheduledReceipts, 3)" width="9" rx="1" :fill="supply" />
    <rect v-if="cell.plannedReceipts > 0" x="46" v-bind="bar(0, cell.plannedReceipts, 4)" width="10" rx="1" fill="none" :stroke="supply" stroke-width="1.5" vector-effect="non-scaling-stroke" />
  </svg>
</template>
