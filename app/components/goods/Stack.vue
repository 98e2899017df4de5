<script setup lang="ts">
import { ratio } from '~~/core/units/exact'
import type { GoodsState } from './Block.vue'

const props = defineProps<{
  onHand: string
  allocated: string
  coming: string
  making: string
  held: string
  wanted: string
  safety: string
  reorder?: string | null
  maximum?: string | null
  symbol: string
  decimals: number
  /** The same on hand in packs. */ packed?: string
}>()
const { amount } = usePrint()

const number = (text: string): number => ratio(text).valueOf()
const free = computed(() => number(props.onHand) - number(props.allocated))
const missing = computed(() =>
  Math.max(0, number(props.wanted) - number(props.onHand) - number(props.coming) - number(props.making)),
)
const parts = computed(() => {
  const all: { state: GoodsState; label: string; size: number; text: string }[] = [
    { state: 'allocated', label: 'allocated', size: number(props.allocated), text: props.allocated },
    {
      state: 'on hand',
      label: 'available',
      size: free.value,
      text: ratio(props.onHand).sub(ratio(props.allocated)).toFraction(),
    },
    { state: 'held', label: 'not available', size: number(props.held), text: props.held },
    { state: 'making', label: 'being made', size: number(props.making), text: props.making },
    { state: 'coming', label: 'on order', size: number(props.coming), text: props.coming },
  ]
  return all.filter((part) => part.size > 0)
})
const marks = computed(() =>
  [
    { label: 'reorder point', text: props.reorder, drawn: 'border-l border-dashed' },
    { label: 'maximum', text: props.maximum, drawn: 'border-l-2 border-double' },
  ].flatMap((mark) => (mark.text ? [{ ...mark, text: mark.text, size: number(mark.text) }] : [])),
)
const total = computed(() =>
  Math.max(
    number(props.wanted),
    number(props.safety),
    ...marks.value.map((mark) => mark.size),
    parts.value.reduce((sum, part) => sum + part.size, 0),
    1e-9,
  ),
)
const share = (size: number): string => `${Math.max(0.6, (size / total.value) * 100)}%`
</script>

<template>
  <figure
    class="m-0"
    :aria-label="`On hand ${onHand} ${symbol}, allocated ${allocated}, on order ${coming}, wanted ${wanted}`"
  >
    <div class="relative flex h-9 items-stretch gap-px">
      <GoodsBlock
        v-for="part in parts"
        :key="part.label"
        :state="part.state"
        :style="{ width: share(part.size) }"
        :title="part.label"
      />
      <GoodsBlock v-if="missing > 0" state="missing" :style="{ width: share(missing) }" title="missing" />
      <span
        v-for="mark in marks"
        :key="mark.label"
        class="absolute -top-1 -bottom-1 w-0 border-ink"
        :class="mark.drawn"
        :style="{ left: `${(mark.size / total) * 100}%` }"
        :title="mark.label"
      />
      <span
        v-if="number(safety) > 0"
        class="absolute -top-1 -bottom-1 w-0 border-l-2 border-ink"
        :style="{ left: `${(number(safety) / total) * 100}%` }"
        title="safety stock"
      />
    </div>
    <figcaption class="mt-1.5 flex flex-wrap gap-x-4 gap-y-1 text-fine text-soft">
      <span v-for="part in parts" :key="part.label" class="flex items-center gap-1.5">
        <GoodsBlock :state="part.state" class="size-3 border" />{{ part.label }}
        <b class="font-semibold text-ink">{{ amount(part.text.includes('/') ? String(part.size) : part.text, 4) }}</b>
        {{ symbol }}
      </span>
      <span v-if="missing > 0" class="flex items-center gap-1.5"
        ><GoodsBlock state="missing" class="size-3 border" />missing
        <b class="font-semibold text-brick">{{ amount(String(+missing.toFixed(6)), decimals) }}</b> {{ symbol }}</span
      >
      <span v-if="parts.length === 0 && missing === 0">Nothing here, nothing coming, nothing wanted.</span>
      <span v-if="number(safety) > 0" class="flex items-center gap-1.5"
        ><i class="inline-block h-3 border-l-2 border-ink" />safety stock
        <b class="font-semibold text-ink">{{ amount(safety, decimals) }}</b></span
      >
      <span v-if="packed"
        >on hand as <b class="font-semibold text-ink">{{ packed }}</b></span
      >
      <span v-for="mark in marks" :key="mark.label" class="flex items-center gap-1.5"
        ><i class="inline-block h-3 border-ink" :class="mark.drawn" />{{ mark.label }}
        <b class="font-semibold text-ink">{{ amount(mark.text, decimals) }}</b></span
      >
    </figcaption>
  </figure>
</template>
