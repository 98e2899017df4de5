<script setup lang="ts">
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import { drawnItem, type ItemForm } from '~/composables/catalogue/use-item-form'

defineProps<{ fields: Record<string, string>; disabled?: boolean }>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const columns = computed<GridColumn[]>(() => [
  {
    key: 'siteId',
    name: 'At the site',
    kind: 'choice',
    empty: 'every site',
    options: references.choices(references.sites),
  },
  { key: 'fromOn', name: 'From the day', kind: 'date', width: '9.5rem' },
  { key: 'untilOn', name: 'Until', kind: 'date', width: '9.5rem' },
  { key: 'yearly', name: 'Every year', kind: 'check', width: '5.5rem' },
  { key: 'safetyStock', name: 'Safety stock', kind: 'number', width: '6.5rem' },
  { key: 'reorderPoint', name: 'Reorder point', kind: 'number', width: '6.5rem' },
  { key: 'targetStock', name: 'Target', kind: 'number', width: '6.5rem' },
  { key: 'maximumStock', name: 'Maximum', kind: 'number', width: '6.5rem' },
])
</script>

<template>
  <div class="grid gap-4">
    <div class="grid grid-cols-2 md:grid-cols-6 gap-3">
      <UiAmountField
        v-model="form.safetyStock"
        label="Safety stock"
        :item="drawnItem(form)"
        :error="fields.safetyStock"
        :disabled="disabled"
      />
      <UiAmountField
        v-model="form.reorderPoint"
        label="Reorder point"
        :item="drawnItem(form)"
        :error="fields.reorderPoint"
        :disabled="disabled"
      />
      <UiAmountField
        v-model="form.targetStock"
        label="Target"
        :item="drawnItem(form)"
        :error="fields.targetStock"
        :disabled="disabled"
      />
      <UiAmountField
        v-model="form.maximumStock"
        label="Maximum"
        :item="drawnItem(form)"
        :error="fields.maximumStock"
        :disabled="disabled"
      />
    </div>
    <div>
      <h3 class="mb-1 font-semibold">By site and season</h3>
      <p class="mb-2 text-fine text-soft">What is left empty stays as above. A season may run over the new year.</p>
      <UiGrid
        v-model="form.marks"
        label="Stock marks by site and season"
        path="marks"
        :columns="columns"
        :fields="fields"
        :disabled="disabled"
        :blank="
          () => ({
            siteId: null,
            fromOn: '',
            untilOn: '',
            yearly: false,
            safetyStock: '',
            reorderPoint: '',
            targetStock: '',
            maximumStock: '',
          })
        "
        add="Add marks for a site or season"
      />
    </div>
  </div>
</template>
