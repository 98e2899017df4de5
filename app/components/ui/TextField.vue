<script setup lang="ts">
const props = withDefaults(
  defineProps<{
    label: string
    error?: string
    hint?: string
    hintAct?: string
    warning?: boolean
    type?: 'text' | 'email' | 'password'
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
const { asTyped } = usePrint()
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
</script>

<template>
  <UiField
    v-slot="{ id, wrong, described }"
    :label="label"
    :error="error"
    :hint="hint"
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
      class="field"
      :class="wrong && 'field-wrong'"
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
      class="field"
      :class="[wrong && 'field-wrong', right && 'text-right']"
      @change="read"
    />
  </UiField>
</template>
