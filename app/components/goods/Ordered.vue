<script setup lang="ts">
/** A quantity in the unit people order in, with what it is in the stock unit beneath it. */
defineProps<{
  of: string
  unit: string
  inUnit: { readonly quantity: string; readonly symbol: string } | null | undefined
}>()
</script>

<template>
  <UiQty v-if="inUnit" strong :of="inUnit.quantity" :unit="inUnit.symbol" />
  <UiQty v-else strong :of="of" :unit="unit" />
  <slot />
  <span v-if="inUnit" class="block text-fine text-soft">= <UiQty :of="of" :unit="unit" /></span>
</template>
