<script setup lang="ts">
import type { Choice } from '~/composables/ui/choice'

/** A customer or a supplier, found by a few letters of name or code. With `empty` nobody may be chosen. */
const props = defineProps<{
  kind: 'customer' | 'supplier'
  label: string
  error?: string
  hint?: string
  hideLabel?: boolean
  empty?: string
}>()
const value = defineModel<number | null>({ required: true })
const references = useReferences()
const shown = computed<Choice | null>(() => {
  const known = props.kind === 'customer' ? references.customers : references.suppliers
  const partner = known.find((entry) => entry.id === value.value)
  return partner ? { value: partner.id, name: partner.name } : null
})
async function load(text: string): Promise<readonly Choice[]> {
  const found = await $fetch('/api/catalogue/partners', { query: { kind: props.kind, search: text } })
  return found.map(({ id, name }) => ({ value: id, name }))
}
</script>

<template>
  <UiChoice
    v-model="value as string | number | null"
    :label="label"
    :error="error"
    :hint="hint"
    :hide-label="hideLabel"
    :empty="empty"
    :load="load"
    :shown="shown"
    :placeholder="empty ?? 'Name or code'"
    :nothing="`Nobody fits. A new ${kind} is added in the Catalogue.`"
  />
</template>
