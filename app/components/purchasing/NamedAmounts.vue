<script setup lang="ts">
import { X } from '@lucide/vue'
import type { NamedAmount } from '~~/shared/purchasing/charges'

/** Freight, setting-up and the like beside goods. */
defineProps<{
  currency: string | null
  fields: Record<string, string>
  summary?: string
}>()
const charges = defineModel<NamedAmount[]>({ required: true })
const change = (index: number, edit: Partial<NamedAmount>): void => {
  charges.value = charges.value.map((charge, place) => (place === index ? { ...charge, ...edit } : charge))
}
</script>

<template>
  <section aria-label="Charges">
    <div v-for="(charge, index) in charges" :key="index" class="mb-2 flex items-start gap-2">
      <UiTextField
        :model-value="charge.name"
        class="min-w-0 flex-1 sm:max-w-64"
        :label="`Charge ${index + 1}`"
        hide-label
        :error="fields[`charges.${index}.name`]"
        @update:model-value="change(index, { name: $event })"
      />
      <UiMoneyField
        :model-value="charge.amount"
        class="w-32"
        :label="`Amount of charge ${index + 1}`"
        hide-label
        :currency="currency ?? undefined"
        :error="fields[`charges.${index}.amount`]"
        @update:model-value="change(index, { amount: $event })"
      />
      <button
        type="button"
        class="grid size-9 place-items-center text-soft hover:text-ink"
        :aria-label="`Remove charge ${index + 1}`"
        @click="charges = charges.filter((_, place) => place !== index)"
      >
        <X class="size-4" />
      </button>
    </div>
    <div class="flex flex-wrap items-center gap-3">
      <UiButton small @click="charges = [...charges, { name: charges.length ? '' : 'Freight', amount: '' }]"
        >Add a charge</UiButton
      ><span v-if="summary && charges.length" class="text-fine text-soft">{{ summary }}</span>
    </div>
  </section>
</template>
