<script setup lang="ts">
import { FEW_CHOICES, type Choice } from '~/composables/ui/choice'

/** A field that offers what can be chosen: a few in a list that opens, many by typing. */
const props = defineProps<{
  label: string
  error?: string
  hint?: string
  hintAct?: string
  options?: readonly Choice[]
  hideLabel?: boolean
  empty?: string
  disabled?: boolean
  compact?: boolean
  look?: string
  /** It will be long, though its choices are not here yet. */
  isTyped?: boolean
  /** The server finds them by the text; `shown` is the one that is stored, `nothing` what is said where none fits. */
  load?: (text: string) => Promise<readonly Choice[]>
  shown?: Choice | null
  nothing?: string
  placeholder?: string
}>()
const value = defineModel<string | number | null>({ required: true })
const emit = defineEmits<{ hintAct: [] }>()
const isLong = computed(() => props.isTyped || props.load !== undefined || (props.options?.length ?? 0) > FEW_CHOICES)
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
      :load="load"
      :shown="shown"
      :nothing="nothing"
      :placeholder="placeholder"
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
      :options="options ?? []"
      :empty="empty"
      :disabled="disabled"
      :wrong="wrong"
      :described="described"
      :compact="compact"
      :look="look"
    />
  </UiField>
</template>
