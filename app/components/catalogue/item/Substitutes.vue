<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import type { GridColumn } from '~/composables/ui/use-grid-paste'
import type { ItemForm } from '~/composables/catalogue/use-item-form'

defineProps<{
  fields: Record<string, string>
  disabled?: boolean
  names: Readonly<Record<number, ItemName>>
}>()
const form = defineModel<ItemForm>({ required: true })
const COLUMNS: GridColumn[] = [
  { key: 'rank', name: 'Rank', kind: 'number', width: '4rem' },
  { key: 'itemId', name: 'May be replaced by', kind: 'item' },
  {
    key: 'per',
    name: 'One of it stands for',
    kind: 'number',
    width: '10rem',
    hint: 'How much of this item one of the substitute replaces, in stock units',
  },
  { key: 'bothWays', name: 'And the other way round', kind: 'check', width: '11rem' },
]
</script>

<template>
  <UiGrid
    v-model="form.substitutes"
    label="Substitutes"
    path="substitutes"
    :columns="COLUMNS"
    :fields="fields"
    :disabled="disabled"
    :blank="() => ({ itemId: null, rank: String(form.substitutes.length + 1), per: '1', bothWays: false })"
    add="Add a substitute"
    empty="Nothing stands in for it."
  >
    <template #itemId="{ row, at, error }"
      ><UiItemField
        v-model="row.itemId"
        :label="`Substitute, line ${at + 1}`"
        hide-label
        :error="error"
        :shown="row.itemId === null ? null : names[row.itemId]"
    /></template>
  </UiGrid>
</template>
