<script setup lang="ts">
import type { ReceiptChange } from '~/composables/purchasing/use-receipt-measure'

/** What goods in make of a line: before → after, and what is left to come or came beyond. */
defineProps<{ change: ReceiptChange; symbol: string }>()
</script>

<template>
  <p class="mt-2 flex items-center gap-2">
    <GoodsBlock state="coming" class="h-3 w-5 border" />received
    <UiChange :before="change.before" :after="change.after" :unit="symbol" /><span
      :class="change.isBeyond ? 'font-medium text-brick' : 'text-soft'"
      >{{
        change.over
          ? `${change.left} ${symbol} more than ordered`
          : change.left === '0'
            ? 'nothing left to come'
            : `${change.left} ${symbol} left to come`
      }}</span
    >
  </p>
</template>
