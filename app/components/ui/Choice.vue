<script setup lang="ts">
import { FEW_CHOICES, type Choice } from '~/composables/ui/choice'

/** A field that offers what can be chosen: a few in a list that opens, many by typing. */
const props = defineProps<{
  label: string
  error?: string
  hint?: string
  hintAct?: string
  options: readonly Choice[]
  hideLabel?: boolean
  empty?: string
  disabled?: boolean
  compact?: boolean
  look?: string
  /** It will be long, though its choices are not here yet. */
  isTyped?: boolean
}>()
const value = defineModel<string | number | null>({ required: true })
const emit = defineEmits<{ hintAct: [] }>()
const isLong = computed(() => props.isTyped || props.options.length > FEW_CHOICES)
</script>

<template>
  <UiField
    v-slot="{ id, labelId, wrong, described }"
    :label="label"
    :error="error"
    :hint="hint"
    :hide-label="hideLabel"
    :hint-act="hintAct"
    @hint-act="emit('hintAct')"
  >
    <UiCombobox
      v-if="isLong"
      :id="id"
      v-model="value"
      :label-id="labelId"
      :label="label"
      :options="options"
      :empty="empty"
      :disabled="disabled"
      :wrong="wrong"
      :described="described"
      :compact="compact"
      :look="look"
    />
    <UiListbox
      v-else
      :id="id"
      v-model="value"
      :label-id="labelId"
      :options="options"
      :empty="empty"
      :disabled="disabled"
      :wrong="wrong"
      :described="described"
      :compact="compact"
      :look="look"
    />
  </UiField>
</template>
