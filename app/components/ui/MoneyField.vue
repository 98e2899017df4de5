<script setup lang="ts">
/**
 * A sum of money or a price in major units, stored plainly. `currency` by ISO 4217, the company's where none is given;
 * its sign stands before what is typed, `$12.50` is read as `12.50`.
 */
const props = defineProps<{
  label: string
  error?: string
  hint?: string
  hideLabel?: boolean
  disabled?: boolean
  currency?: string | null
}>()
const value = defineModel<string>({ required: true })
const { asTyped, signOf } = usePrint()
const session = useSession()
const sign = computed(() => signOf(props.currency || session.company?.currency || 'EUR'))
/** What is typed stays as it is until the field is left. */
const isTyped = ref(false)
const shown = computed({
  get: () => (!isTyped.value && isPlainDecimal(value.value) ? asTyped(value.value) : value.value),
  set: (text) => {
    isTyped.value = true
    value.value = text
  },
})
const unread = ref(false)
function read(): void {
  value.value = readNumber(value.value.replace(sign.value, ''), session.company?.decimalSign)
  isTyped.value = false
  unread.value = value.value !== '' && !/^-?\d+(\.\d+)?(\/\d+)?$/.test(value.value)
}
watch(value, () => {
  unread.value = false
})
const problem = computed(() => props.error || (unread.value ? `Write an amount such as ${asTyped('12.50')}.` : ''))
</script>

<template>
  <UiField v-slot="{ id, wrong, described }" :label="label" :error="problem" :hint="hint" :hide-label="hideLabel">
    <div class="relative">
      <span class="pointer-events-none absolute inset-y-0 left-2.5 flex items-center text-soft" aria-hidden="true">{{
        sign
      }}</span>
      <input
        :id="id"
        v-model="shown"
        inputmode="decimal"
        autocomplete="off"
        :disabled="disabled"
        :aria-invalid="wrong"
        :aria-describedby="described"
        class="field text-right"
        :class="[wrong && 'field-wrong', sign.length > 1 ? 'pl-10' : 'pl-6']"
        @change="read"
      />
    </div>
  </UiField>
</template>
