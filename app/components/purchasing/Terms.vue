<script setup lang="ts">
/** What is agreed with the supplier about the order as a whole. */
defineProps<{ fields: Record<string, string> }>()
const payment = defineModel<string>('payment', { required: true })
const delivery = defineModel<string>('delivery', { required: true })
</script>

<template>
  <div class="mt-4 grid grid-cols-1 gap-3 border-t border-line pt-4 md:grid-cols-2">
    <UiTextField
      v-model="payment"
      label="Terms of payment"
      placeholder="30 days net"
      :error="fields.paymentTerms"
    /><UiTextField
      v-model="delivery"
      label="Terms of delivery"
      placeholder="carriage paid"
      :error="fields.deliveryTerms"
    />
  </div>
</template>
