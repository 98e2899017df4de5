<script setup lang="ts">
import type { SupplyOptionAnswer } from '~~/shared/demand/requests'

defineProps<{ options: readonly SupplyOptionAnswer[] }>()
const STATE = {
  free: 'on hand',
  coming: 'coming',
  buy: 'coming planned',
  make: 'making planned',
  'break down': 'making planned',
  move: 'coming planned',
  none: 'missing',
} as const
</script>

<template>
  <ul>
    <li v-for="(option, index) in options" :key="index" class="py-0.5">
      <span class="flex items-center gap-2"
        ><GoodsBlock :state="STATE[option.kind]" class="h-3 w-5 shrink-0" />{{ option.text }}</span
      >
      <div v-if="option.from.length" class="ml-2.5 border-l border-line pl-4">
        <DemandSupplyOptions :options="option.from" />
      </div>
    </li>
  </ul>
</template>
