<script setup lang="ts">
import { readGtin } from '~~/core/codes'
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import type { ItemForm } from '~/composables/catalogue/use-item-form'

const props = defineProps<{ fields: Record<string, string>; disabled?: boolean; itemId?: number }>()
const form = defineModel<ItemForm>({ required: true })
const references = useReferences()
const printing = ref(false)
const ownUnits = computed(() =>
  [
    ...new Set([
      form.value.stockUnit,
      form.value.buyingUnit,
      form.value.sellingUnit,
      form.value.makingUnit,
      ...form.value.relations.flatMap((r) => [r.unit, r.ofUnit]),
    ]),
  ].map((code) => ({ value: code, name: references.unitName(code), code: references.symbol(code) })),
)
const columns = computed<GridColumn[]>(() => [
  { key: 'code', name: 'Code' },
  {
    key: 'kind',
    name: 'Kind',
    kind: 'choice',
    width: '8rem',
    options: [
      { value: 'barcode', name: 'barcode' },
      { value: 'code', name: 'code' },
    ],
  },
  { key: 'unit', name: 'On one', kind: 'choice', empty: 'any unit', options: ownUnits.value, width: '9rem' },
  { key: 'whose', name: 'Whose', width: '12rem', hint: 'A supplier’s, a shop’s, an old one …' },
])
const reads = (code: string): string => {
  const gtin = readGtin(code)
  return gtin.ok ? `${gtin.value.form}, check digit right` : ''
}
</script>

<template>
  <div>
    <p class="mb-2 text-fine text-soft">
      Each finds the item; a barcode finds the unit too: the carton has its own. With the cursor in a line, scan it.
    </p>
    <UiGrid
      v-model="form.codes"
      label="Codes and barcodes"
      path="codes"
      :columns="columns"
      :fields="fields"
      :disabled="disabled"
      :blank="() => ({ code: '', kind: 'barcode', unit: form.stockUnit, whose: '' })"
      add="Add a code"
      empty="Known by its own code only."
    >
      <template #under="{ row }"
        ><p v-if="row.kind === 'barcode' && reads(row.code)" class="-mt-1 text-fine text-willow">
          {{ reads(row.code) }}
        </p></template
      >
    </UiGrid>
    <UiButton v-if="itemId" small class="mt-2 ml-1" @click="printing = true">Print labels</UiButton>
    <CatalogueLabels
      v-if="printing && itemId"
      :items="[{ id: itemId, code: props.itemId ? form.code : '', units: ownUnits }]"
      @close="printing = false"
    />
  </div>
</template>
