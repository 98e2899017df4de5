<script setup lang="ts">
import { Combobox, ComboboxButton, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/vue'
import { ChevronDown } from '@lucide/vue'
import { watchDebounced } from '@vueuse/core'
import type { Choice } from '~/composables/ui/choice'

/**
 * One of many, found by typing: among `options`, or among what `load` answers to the text.
 *
 * `shown` is the choice that is stored, where `options` cannot tell its name; with `empty` nothing may be chosen.
 */
const props = defineProps<{
  id: string
  labelId: string
  label: string
  options?: readonly Choice[]
  load?: (text: string) => Promise<readonly Choice[]>
  shown?: Choice | null
  empty?: string
  nothing?: string
  placeholder?: string
  disabled?: boolean
  wrong?: boolean
  described?: string
  compact?: boolean
  look?: string
}>()
const value = defineModel<string | number | null>({ required: true })
const emit = defineEmits<{ chosen: [choice: Choice] }>()
/** As many as are drawn; more are found by more letters. */
const MOST = 60

const text = ref('')
const loaded = shallowRef<readonly Choice[]>([])
const picked = shallowRef<Choice | null>(null)
const anchor = useTemplateRef('anchor')
const chevron = useTemplateRef<{ el: HTMLElement | null }>('chevron')

const chosen = computed<Choice | null>(() => {
  const known = [picked.value, props.shown, ...(props.options ?? [])]
  return known.find((choice) => choice && choice.value === value.value) ?? null
})
const found = computed(() => (props.load ? loaded.value : matchingChoices(props.options ?? [], text.value)))
const offered = computed(() => {
  const nothing: readonly Choice[] =
    props.empty !== undefined && text.value === '' ? [{ value: null, name: props.empty }] : []
  return [...nothing, ...found.value.slice(0, MOST)]
})

// Answers can overtake each other; only that to the last question counts.
let asked = 0
async function search(): Promise<void> {
  if (!props.load) {
    return
  }
  const question = ++asked
  const answer = await props.load(text.value)
  if (question === asked) {
    loaded.value = answer
  }
}
watchDebounced(text, search, { debounce: 120 })
function choose(choice: Choice | null): void {
  picked.value = choice
  value.value = choice?.value ?? null
  if (choice) {
    emit('chosen', choice)
  }
  // Forms that save as one goes listen for this.
  void nextTick(() => anchor.value?.dispatchEvent(new Event('change', { bubbles: true })))
}
const written = (choice: unknown): string => {
  const { name, code } = (choice ?? { name: '' }) as Choice
  return props.load && code ? `${code}  ${name}` : name.trim()
}
/** A click into the field opens the list, as the button beside it does. */
function show(isOpen: boolean): void {
  if (!isOpen) {
    chevron.value?.el?.click()
  }
}
function begin(event: FocusEvent): void {
  text.value = ''
  ;(event.target as HTMLInputElement).select()
  void search()
}
</script>

<template>
  <Combobox
    v-slot="{ open }"
    :model-value="chosen"
    by="value"
    :nullable="empty !== undefined"
    :disabled="disabled"
    @update:model-value="choose"
  >
    <div ref="anchor" class="relative min-w-0">
      <ComboboxInput
        :id="id"
        class="field pr-7"
        :class="[compact && 'field-compact', wrong && 'field-wrong', look]"
        :aria-labelledby="labelId"
        :aria-invalid="wrong || undefined"
        :aria-describedby="described"
        :placeholder="placeholder ?? empty"
        autocomplete="off"
        :display-value="written"
        @change="text = $event.target.value"
        @focus="begin"
        @click="show(open)"
      />
      <ComboboxButton
        ref="chevron"
        class="absolute inset-y-0 right-0 px-2 text-soft"
        tabindex="-1"
        aria-label="Show all"
        @click="text = ''"
      >
        <ChevronDown class="size-3.5" aria-hidden="true" />
      </ComboboxButton>
      <UiFloating v-if="open" :anchor="anchor" is-as-wide>
        <ComboboxOptions static class="py-1" aria-label="Choices">
          <ComboboxOption
            v-for="choice in offered"
            :key="String(choice.value)"
            v-slot="{ active }"
            :value="choice.value === null ? null : choice"
            as="template"
          >
            <li class="floating-option" :class="active && 'bg-wash'">
              <b v-if="load && choice.code" class="font-medium">{{ choice.code }}</b>
              <span class="min-w-0 flex-1 truncate whitespace-pre" :class="load && choice.code && 'text-soft'">{{
                choice.name
              }}</span>
              <span v-if="choice.detail" class="text-fine text-soft">{{ choice.detail }}</span>
            </li>
          </ComboboxOption>
          <li v-if="found.length > MOST" class="px-3 py-1.5 text-soft">
            and {{ found.length - MOST }} more: type some letters
          </li>
          <li v-if="found.length === 0 && text !== ''" class="px-3 py-1.5 text-soft">
            {{ nothing ?? 'Nothing fits these letters.' }}
          </li>
        </ComboboxOptions>
      </UiFloating>
    </div>
  </Combobox>
</template>
