<script setup lang="ts">
import { isIsoDate } from '~~/core/calendar'

const props = withDefaults(defineProps<{ label: string, error?: string, hint?: string, type?: 'text' | 'email' | 'password' | 'date', right?: boolean, placeholder?: string, hideLabel?: boolean, disabled?: boolean, autocomplete?: string }>(), { type: 'text', autocomplete: 'off' })
const value = defineModel<string>({ required: true })
const { longDay } = usePrint()
/** A date field is written by the browser's habit; beneath it stands the day as everywhere else. */
const says = computed(() => props.type === 'date' && isIsoDate(value.value) ? [longDay(value.value), props.hint].filter(Boolean).join(', ') : props.hint)
</script>

<template>
  <FormField v-slot="{ id, wrong, described }" :label="label" :error="error" :hint="says" :hide-label="hideLabel">
    <input
      :id="id" v-model="value" :type="type" :placeholder="placeholder" :disabled="disabled" :autocomplete="autocomplete" :aria-invalid="wrong" :aria-describedby="described"
      class="h-9 w-full min-w-0 rounded-block border bg-sheet px-2.5 disabled:bg-wash" :class="[wrong ? 'border-brick' : 'border-line', right && 'text-right']"
    >
  </FormField>
</template>
