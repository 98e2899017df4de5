<script setup lang="ts">
import type { LineForm } from '~/composables/structure/use-bill-form'
import type { PartItem } from '~~/shared/structure/parts'

defineProps<{ at: number; items: ReadonlyMap<number, PartItem>; fields: Record<string, string>; disabled?: boolean }>()
const line = defineModel<LineForm>({ required: true })
const emit = defineEmits<{ want: [ids: number[]] }>()
const COLUMNS = [
  { key: 'rank', name: 'Rank', kind: 'number' as const, width: '4rem' },
  { key: 'itemId', name: 'May stand in', kind: 'item' as const },
  {
    key: 'per',
    name: 'So much for one',
    kind: 'number' as const,
    width: '9rem',
    hint: 'How much of it replaces one of the component, in stock units',
  },
]
</script>

<template>
  <div class="grid gap-3 rounded-block bg-wash p-3">
    <div class="grid grid-cols-[9rem_1fr] gap-3">
      <UiTextField
        v-model="line.offsetDays"
        label="Days after the start"
        right
        :disabled="disabled"
        :error="fields[`lines.${at}.offsetDays`]"
      />
      <UiTextField v-model="line.note" label="Note" :disabled="disabled" :error="fields[`lines.${at}.note`]" />
    </div>
    <UiCheckField
      v-model="line.phantom"
      label="Phantom: built straight in when none is in stock"
      :disabled="disabled"
    />
    <UiGrid
      v-model="line.substitutes"
      :label="`Substitutes of line ${at + 1}`"
      :path="`lines.${at}.substitutes`"
      :columns="COLUMNS"
      :fields="fields"
      :disabled="disabled"
      :blank="() => ({ itemId: null, rank: String(line.substitutes.length + 1), per: '1' })"
      add="Add a substitute"
      empty="Nothing stands in for it in this bill."
    >
      <template #itemId="{ row, at: i, error }"
        ><UiItemChip
          v-if="disabled && row.itemId !== null"
          :id="row.itemId"
          class="pt-1"
          :code="items.get(row.itemId)?.code ?? ''"
          :name="items.get(row.itemId)?.name" /><UiItemField
          v-else
          v-model="row.itemId"
          :label="`Substitute ${i + 1} of line ${at + 1}`"
          hide-label
          :error="error"
          :shown="row.itemId === null ? null : (items.get(row.itemId) ?? null)"
          @chosen="emit('want', [$event.id])"
      /></template>
    </UiGrid>
  </div>
</template>
