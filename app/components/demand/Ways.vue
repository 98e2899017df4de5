<script setup lang="ts">
import type { WayTold } from '~~/shared/demand'

defineProps<{ ways: readonly WayTold[] }>()
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
    <li v-for="(way, index) in ways" :key="index" class="py-0.5">
      <span class="flex items-center gap-2"
        ><GoodsBlock :state="STATE[way.kind]" class="h-3 w-5 shrink-0" />{{ way.text }}</span
      >
      <div v-if="way.from.length" class="ml-2.5 border-l border-line pl-4"><DemandWays :ways="way.from" /></div>
    </li>
  </ul>
</template>
