<script setup lang="ts">
import { isIsoDate } from '~~/core/calendar/days'

const props = withDefaults(
  defineProps<{
    label: string
    error?: string
    hint?: string
    hintAct?: string
    warning?: boolean
    type?: 'text' | 'email' | 'password' | 'date'
    right?: boolean
    placeholder?: string
    hideLabel?: boolean
    disabled?: boolean
    autocomplete?: string
    lines?: number
  }>(),
  { type: 'text', autocomplete: 'off' },
)
const value = defineModel<string>({ required: true })
const emit = defineEmits<{ hintAct: [] }>()
const { asTyped, longDay } = usePrint()
const session = useSession()
/** What stands on the right is a number: typed and shown as people write it, stored plainly. */
const typing = ref(false)
const shown = computed({
  get: () => (props.right && !typing.value && isPlainDecimal(value.value) ? asTyped(value.value) : value.value),
  set: (text) => {
    typing.value = true
    value.value = text
  },
})
function read(): void {
  if (props.right) {
    value.value = readNumber(value.value, session.company?.decimalSign)
  }
  typing.value = false
}
/** A date field is written by the browser's habit; beneath it stands the day as everywhere else. */
const summary = computed(() =>
  props.type === 'date' && isIsoDate(value.value)
    ? [longDay(value.value), props.hint].filter(Boolean).join(', ')
    : props.hint,
)
</script>

<template>
  <FormField
    v-slot="{ id, wrong, described }"
    :label="label"
    :error="error"
    :hint="summary"
    :hide-label="hideLabel"
    :hint-act="hintAct"
    :warning="warning"
    @hint-act="emit('hintAct')"
  >
    <textarea
      v-if="lines"
      :id="id"
      v-model="value"
      :rows="lines"
      :disabled="disabled"
      :aria-invalid="wrong"
      :aria-describedby="described"
      class="w-full min-w-0 rounded-block border bg-sheet px-2.5 py-1.5 disabled:bg-wash"
      :class="wrong ? 'border-brick' : 'border-line'"
    />
    <input
      v-else
      :id="id"
      v-model="shown"
      :type="type"
      :placeholder="placeholder"
      :disabled="disabled"
      :autocomplete="autocomplete"
      :aria-invalid="wrong"
      :aria-describedby="described"
      class="h-9 w-full min-w-0 rounded-block border bg-sheet px-2.5 disabled:bg-wash"
      :class="[
        wrong ? 'border-brick' : 'border-line',
        right && 'text-right',
        type === 'date' && value === '' && 'empty-date',
      ]"
      @change="read"
    />
  </FormField>
</template>
