<script setup lang="ts">
import { convert, type Unit } from '~~/core/units/graph'
import { ONE, ratio } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{ item: MeasuredItem }>()
const { measure } = useMeasure(() => props.item)
const { printed } = usePrint()

/**
 * The item's own units, largest first, each with what one of it is in the stock unit; the finest step is the ground.
 */
const rungs = computed(() => {
  if (!measure.value) {
    return []
  }
  const own = new Set([
    props.item.stockUnit,
    props.item.buyingUnit,
    props.item.sellingUnit,
    ...props.item.relations.flatMap((r) => [r.unit, r.ofUnit]),
  ])
  return [...own]
    .flatMap((code) => {
      const unit: Unit | undefined = code ? measure.value!.graph.units.get(code) : undefined
      const entry = unit && convert(measure.value!.graph, ONE, unit.code, props.item.stockUnit)
      return unit && entry?.ok ? [{ unit, inStock: entry.value, width: 0 }] : []
    })
    .sort((a, b) => b.inStock.compare(a.inStock))
    .map((rung, index, all) => ({ ...rung, width: 100 - index * (60 / Math.max(1, all.length)) }))
})
/** Bridges of the stock unit, as they were stated: 1 m = 1.32 m². */
const bridges = computed(() =>
  props.item.relations
    .filter((r) => r.unit === props.item.stockUnit)
    .map(
      (r) =>
        `${printed('per' in r ? ratio(r.per) : ratio(r.numerator).div(ratio(r.denominator)), 6)} ${measure.value?.graph.units.get(r.ofUnit)?.symbol ?? r.ofUnit}`,
    )
    .join(', '),
)
const symbol = computed(() => measure.value?.graph.units.get(props.item.stockUnit)?.symbol ?? props.item.stockUnit)
</script>

<template>
  <figure class="m-0 text-fine" aria-label="Unit ladder">
    <div
      v-for="rung in rungs"
      :key="rung.unit.code"
      class="-mt-px flex h-6 items-center justify-between gap-3 border border-line px-2"
      :class="rung.unit.code === item.stockUnit ? 'bg-maple-face font-semibold text-[#2a2520]' : 'bg-wash'"
      :style="{ width: `${rung.width}%` }"
    >
      <span>1 {{ rung.unit.name }}</span
      ><span v-if="rung.unit.code !== item.stockUnit">{{ printed(rung.inStock, 6) }} {{ symbol }}</span
      ><span v-else>{{ bridges || 'stock unit' }}</span>
    </div>
    <figcaption class="mt-1 text-soft">finest step {{ item.finestStep }} {{ symbol }}</figcaption>
  </figure>
</template>
