<script setup lang="ts">
import type { PurchaseState } from '~~/shared/purchasing/state'

/** How far an order is: the way that is behind it is drawn full. */
defineProps<{ state: PurchaseState }>()
const STEPS: readonly PurchaseState[] = ['draft', 'sent', 'confirmed', 'received in part', 'received']
</script>

<template>
  <UiTag v-if="state === 'cancelled' || state === 'closed short'">{{ state }}</UiTag>
  <ol v-else class="flex items-end" :aria-label="`State: ${state}`">
    <li
      v-for="(step, index) in STEPS"
      :key="step"
      class="flex flex-col items-center"
      :aria-current="step === state ? 'step' : undefined"
    >
      <GoodsBlock
        :state="index < 3 ? 'coming' : 'on hand'"
        class="w-16"
        :class="[step === state ? 'h-6' : 'h-3', STEPS.indexOf(state) < index && 'opacity-25', index > 0 && '-ml-px']"
      />
      <span class="mt-0.5 px-1 text-fine" :class="step === state ? 'font-semibold' : 'text-soft'">{{
        step === 'received in part' ? 'in part' : step
      }}</span>
    </li>
  </ol>
</template>
