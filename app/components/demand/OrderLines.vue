<script setup lang="ts">
import type { MeasuredItem } from '~/composables/use-measure'

export interface OrderLine { id: number | null, itemId: number | null, shown: { id: number, code: string, name: string } | null, measured: MeasuredItem | null, quantity: string, unit: string, price: string }
const props = defineProps<{ fields: Record<string, string>, disabled?: boolean, prices: 'selling' | 'buying' }>()
const lines = defineModel<OrderLine[]>({ required: true })

async function choose(line: OrderLine, id: number): Promise<void> {
  const item = await $fetch(`/api/catalogue/items/${id}`)
  line.measured = item
  line.unit = props.prices === 'buying' ? item.terms?.unit ?? item.buyingUnit : item.sellingUnit
  line.price = props.prices === 'buying' ? item.terms?.price ?? '0' : item.price ?? '0'
}
function add(): void { lines.value = [...lines.value, { id: null, itemId: null, shown: null, measured: null, quantity: '', unit: 'piece', price: '0' }] }
</script>

<template>
  <div>
    <div v-for="(line, index) in lines" :key="index" class="mb-2 grid grid-cols-[1fr_14rem_8rem_auto] items-start gap-2">
      <FormItem v-model="line.itemId" :shown="line.shown" label="Item" :hide-label="index > 0" :error="fields[`lines.${index}.itemId`]" @chosen="choose(line, $event.id)" />
      <FormQuantity v-model="line.quantity" v-model:unit="line.unit" label="Quantity" :hide-label="index > 0" :item="line.measured" :error="fields[`lines.${index}.quantity`]" />
      <FormText v-model="line.price" label="Price for one" right :hide-label="index > 0" :error="fields[`lines.${index}.price`]" />
      <UiButton v-if="!disabled" :class="index === 0 && 'mt-[1.45rem]'" aria-label="Remove this line" @click="lines = lines.filter((_, at) => at !== index)">×</UiButton>
    </div>
    <p v-if="fields.lines" class="mb-2 text-fine text-brick" role="alert">{{ fields.lines }}</p>
    <UiButton v-if="!disabled" small @click="add">Add a line</UiButton>
  </div>
</template>
