<script setup lang="ts">
const props = defineProps<{ of: string; unit: string; decimals?: number; strong?: boolean }>()
const { amount } = usePrint()
const text = computed(() => amount(props.of, props.decimals ?? 6))
</script>

<template>
  <span class="whitespace-nowrap" :class="strong && 'font-semibold'"
    >{{ text }}<span class="ml-1 font-normal text-soft">{{ unit }}</span></span
  >
</template>
