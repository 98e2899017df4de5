<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { watchDebounced } from '@vueuse/core'

interface Choice {
  id: number
  code: string
  name: string
  unit?: string | null
}
const props = defineProps<{
  label: string
  error?: string
  hideLabel?: boolean
  source?: string
  shown?: Choice | null
}>()
const value = defineModel<number | null>({ required: true })
const emit = defineEmits<{ chosen: [item: Choice] }>()

const text = ref('')
const choices = ref<Choice[]>([])
const chosen = ref<Choice | null>(props.shown ?? null)
watch(
  () => props.shown,
  (shown) => {
    if (shown) {
      chosen.value = shown
    }
  },
)

// Answers can overtake each other; only that to the last question counts.
let asked = 0
async function loadMatches(): Promise<void> {
  const question = ++asked
  const found = await $fetch('/api/catalogue/items', {
    query: { search: text.value, status: 'active', source: props.source ?? '', size: 12 },
  })
  if (question !== asked) {
    return
  }
  // What begins with these letters goes before what only holds them.
  const begins = (code: string): number => (code.toLowerCase().startsWith(text.value.toLowerCase()) ? 0 : 1)
  choices.value = [...found.rows].sort((a, b) => begins(a.code) - begins(b.code))
  // A scanned barcode names the item and the unit; it goes first.
  if (text.value.length < 4) {
    return
  }
  const scanned = (await $fetch('/api/find', { query: { text: text.value } })).find(
    (thing) => thing.kind === 'item' && thing.by,
  )
  if (question === asked && scanned) {
    choices.value = [
      { id: scanned.id, code: scanned.code, name: scanned.name, unit: scanned.unit },
      ...choices.value.filter((choice) => choice.id !== scanned.id),
    ]
  }
}
watchDebounced(text, loadMatches, { debounce: 120 })
function choose(item: Choice | null): void {
  if (!item) {
    return
  }
  chosen.value = item
  value.value = item.id
  emit('chosen', item)
}
</script>

<template>
  <FormField v-slot="{ wrong, described }" :label="label" :error="error" :hide-label="hideLabel">
    <Combobox :model-value="chosen" by="id" nullable @update:model-value="choose">
      <div class="relative">
        <ComboboxInput
          class="h-9 w-full min-w-0 rounded-block border bg-sheet px-2.5"
          :class="wrong ? 'border-brick' : 'border-line'"
          :aria-label="label"
          :aria-invalid="wrong"
          :aria-describedby="described"
          placeholder="Code or name"
          autocomplete="off"
          :display-value="(item) => (item ? `${(item as Choice).code}  ${(item as Choice).name}` : '')"
          @change="text = $event.target.value"
          @focus="loadMatches"
        />
        <ComboboxOptions
          class="absolute z-30 mt-1 max-h-72 w-full min-w-72 overflow-y-auto rounded-block border border-line bg-sheet py-1 shadow-lg"
        >
          <ComboboxOption v-for="choice in choices" :key="choice.id" v-slot="{ active }" :value="choice" as="template">
            <li class="flex cursor-pointer gap-2 px-3 py-1.5" :class="active && 'bg-wash'">
              <b class="font-medium">{{ choice.code }}</b><span class="truncate text-soft">{{ choice.name }}</span>
            </li>
          </ComboboxOption>
          <li v-if="choices.length === 0" class="px-3 py-1.5 text-soft">
            Nothing fits. Items are added in the Catalogue.
          </li>
        </ComboboxOptions>
      </div>
    </Combobox>
  </FormField>
</template>
