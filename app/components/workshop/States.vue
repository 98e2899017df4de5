<script setup lang="ts">
import type { BuildState } from '~~/shared/workshop/requests'

defineProps<{ state: BuildState }>()
const STEPS: readonly BuildState[] = ['draft', 'ready', 'started', 'done']
const drawn = (step: BuildState): 'held' | 'making planned' | 'allocated' | 'making' | 'on hand' => {
  if (step === 'draft') {
    return 'making planned'
  }
  if (step === 'ready') {
    return 'allocated'
  }
  if (step === 'started') {
    return 'making'
  }
  return 'on hand'
}
</script>

<template>
  <UiTag v-if="state === 'cancelled'">cancelled</UiTag>
  <ol v-else class="flex items-end" :aria-label="`State: ${state}`">
    <li
      v-for="(step, index) in STEPS"
      :key="step"
      class="flex flex-col items-center"
      :aria-current="step === state ? 'step' : undefined"
    >
      <GoodsBlock
        :state="drawn(step)"
        class="w-14"
        :class="[step === state ? 'h-6' : 'h-3', STEPS.indexOf(state) < index && 'opacity-25', index > 0 && '-ml-px']"
      />
      <span class="mt-0.5 text-fine" :class="step === state ? 'font-semibold' : 'text-soft'">{{ step }}</span>
    </li>
  </ol>
</template>
