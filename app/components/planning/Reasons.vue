<script setup lang="ts">
import type { WhyReason } from '~~/shared/planning/answers'
defineProps<{ reasons: readonly WhyReason[] }>()
const { day } = usePrint()
</script>

<template>
  <ul class="border-l border-line pl-3">
    <li v-for="(reason, index) in reasons" :key="index" class="py-1">
      <span class="font-medium">{{ reason.quantity }}</span> for {{ reason.label }}
      <span class="text-soft">{{ day(reason.day) }}</span>
      <PlanningReasons v-if="reason.reasons.length" :reasons="reason.reasons" class="mt-1 ml-1" />
    </li>
  </ul>
</template>
