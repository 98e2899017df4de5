<script setup lang="ts">
import { CalendarDays } from '@lucide/vue'
import { onClickOutside } from '@vueuse/core'
import { isIsoDate, printDay, readTypedDay } from '~~/core/calendar/days'

/**
 * A day, typed as the company writes dates (and `+7`, `fri`, `today`) or chosen from a calendar. The model holds it as
 * ISO 8601 writes it; what cannot be read stays as it was typed, so that it is refused and not lost.
 */
const props = defineProps<{
  label: string
  error?: string
  hint?: string
  hideLabel?: boolean
  disabled?: boolean
  compact?: boolean
  placeholder?: string
}>()
const value = defineModel<string>({ required: true })
const session = useSession()
const { longDay } = usePrint()
const Calendar = defineAsyncComponent(() => import('./Calendar.vue'))

const anchor = useTemplateRef('anchor')
const field = useTemplateRef('field')
const isOpen = ref(false)
/** What is being typed; null where the field shows what is stored. */
const typed = ref<string | null>(null)

const format = computed(() => session.company?.dateFormat ?? 'day month')
const isDay = computed(() => isIsoDate(value.value))
/** With its year always: what is shown is read again as the same day. */
const written = computed(() => (isDay.value ? printDay(value.value, '', format.value) : value.value))
const shown = computed(() => typed.value ?? written.value)
const problem = computed(() =>
  typed.value === null && value.value !== '' && !isDay.value
    ? `“${value.value}” is no date. Type it as ${printDay(session.today, '', format.value)}, or +7 for a week from today.`
    : '',
)
const summary = computed(() => {
  const day = isDay.value ? longDay(value.value).slice(0, 3) : ''
  return [day, props.hint].filter(Boolean).join(', ')
})

function onInput(event: Event): void {
  typed.value = (event.target as HTMLInputElement).value
  const read = readTypedDay(typed.value, session.today, format.value)
  if (read !== null || typed.value.trim() === '') {
    value.value = read ?? ''
  }
}
/** The field is left: what was typed becomes the day that it stands for. */
function commit(): void {
  if (typed.value === null) {
    return
  }
  const text = typed.value.trim()
  value.value = readTypedDay(text, session.today, format.value) ?? text
  typed.value = null
}
function open(): void {
  commit()
  isOpen.value = !props.disabled
}
function choose(day: string): void {
  value.value = day
  isOpen.value = false
  field.value?.focus()
  // Forms that save as one goes listen for this.
  void nextTick(() => field.value?.dispatchEvent(new Event('change', { bubbles: true })))
}
function onEscape(event: KeyboardEvent): void {
  if (isOpen.value) {
    event.stopPropagation()
    isOpen.value = false
    field.value?.focus()
  }
}
onClickOutside(anchor, () => {
  isOpen.value = false
})
</script>

<template>
  <UiField
    v-slot="{ id, wrong, described }"
    :label="label"
    :error="error || problem"
    :hint="summary"
    :hide-label="hideLabel"
  >
    <div ref="anchor" class="relative min-w-0" @keydown.esc="onEscape">
      <input
        :id="id"
        ref="field"
        :value="shown"
        type="text"
        autocomplete="off"
        :placeholder="placeholder"
        :disabled="disabled"
        :aria-invalid="wrong"
        :aria-describedby="described"
        class="field pr-7"
        :class="[compact && 'field-compact', wrong && 'field-wrong']"
        @input="onInput"
        @change="commit"
        @blur="commit"
        @keydown.enter="commit"
        @keydown.down.prevent="open"
      />
      <button
        type="button"
        class="absolute inset-y-0 right-0 px-1.5 text-soft hover:text-ink"
        tabindex="-1"
        :disabled="disabled"
        aria-label="Open the calendar"
        :aria-expanded="isOpen"
        @click="isOpen ? (isOpen = false) : open()"
      >
        <CalendarDays class="size-3.5" aria-hidden="true" />
      </button>
      <UiFloating v-if="isOpen" :anchor="anchor">
        <Calendar :model-value="value" @update:model-value="choose" />
      </UiFloating>
    </div>
  </UiField>
</template>
