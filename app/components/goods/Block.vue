<script setup lang="ts">
export type GoodsState =
  'on hand' | 'coming' | 'coming planned' | 'making' | 'making planned' | 'allocated' | 'held' | 'missing'

const props = defineProps<{ state: GoodsState; title?: string }>()

// Colour says what the goods are; the drawing says how real: solid is real, outline planned, dashed missing.
const DRAWN: Readonly<Record<GoodsState, string>> = {
  'on hand': 'bg-maple border-maple filled',
  coming: 'bg-willow border-willow filled',
  'coming planned': 'border-willow bg-transparent',
  making: 'bg-slate border-slate filled',
  'making planned': 'border-slate bg-transparent',
  allocated: 'bg-plum border-plum notched filled',
  held: 'border-stone hatched',
  missing: 'border-brick border-dashed bg-transparent',
}
const drawing = computed(() => DRAWN[props.state])
</script>

<template>
  <span class="block rounded-block border-2" :class="drawing" :title="title" />
</template>
