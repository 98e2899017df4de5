<script setup lang="ts">
import type { Choice } from '~/composables/ui/choice'

interface ItemChoice {
  id: number
  code: string
  name: string
  unit?: string | null
}
/** An item, found by its code, its name or a scanned barcode. `source` narrows to what is made, bought or packed. */
const props = defineProps<{
  label: string
  error?: string
  hideLabel?: boolean
  source?: string
  shown?: ItemChoice | null
}>()
const value = defineModel<number | null>({ required: true })
const emit = defineEmits<{ chosen: [item: ItemChoice] }>()

const items = new Map<number, ItemChoice>()
const asChoice = (item: ItemChoice): Choice => ({ value: item.id, name: item.name, code: item.code })
const shown = computed(() => (props.shown ? asChoice(props.shown) : null))

/** What a scanned barcode names, an item and the unit it stands for. */
async function findScanned(text: string): Promise<ItemChoice | null> {
  const things = await $fetch('/api/find', { query: { text } })
  const scanned = things.find((thing) => thing.kind === 'item' && thing.by)
  return scanned ? { id: scanned.id, code: scanned.code, name: scanned.name, unit: scanned.unit } : null
}
async function load(text: string): Promise<readonly Choice[]> {
  const [{ rows }, scanned] = await Promise.all([
    $fetch('/api/catalogue/items', {
      query: { search: text, status: 'active', source: props.source ?? '', size: 12 },
    }),
    text.length < 4 ? null : findScanned(text),
  ])
  // What begins with these letters goes before what only holds them; a scanned barcode goes first.
  const begins = (code: string): number => (code.toLowerCase().startsWith(text.toLowerCase()) ? 0 : 1)
  const sorted: ItemChoice[] = [...rows].sort((first, second) => begins(first.code) - begins(second.code))
  const found = scanned ? [scanned, ...sorted.filter((item) => item.id !== scanned.id)] : sorted
  for (const { id, code, name, unit } of found) {
    items.set(id, { id, code, name, ...(scanned?.id === id && { unit }) })
  }
  return found.map(asChoice)
}
function onChosen(choice: Choice): void {
  const item = items.get(Number(choice.value))
  if (item) {
    emit('chosen', item)
  }
}
</script>

<template>
  <UiField v-slot="{ id, labelId, wrong, described }" :label="label" :error="error" :hide-label="hideLabel">
    <UiCombobox
      :id="id"
      v-model="value as string | number | null"
      :label-id="labelId"
      :label="label"
      :load="load"
      :shown="shown"
      :wrong="wrong"
      :described="described"
      placeholder="Code or name"
      nothing="Nothing fits. Items are added in the Catalogue."
      @chosen="onChosen"
    />
  </UiField>
</template>
