<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { Check, ChevronDown } from '@lucide/vue'
import type { Choice } from '~/composables/ui/choice'

/**
 * One of a few, chosen from a list that opens; long lists are the combobox's. `empty` is what stands for nothing
 * chosen.
 */
const props = defineProps<{
  id: string
  labelId: string
  options: readonly Choice[]
  empty?: string
  disabled?: boolean
  wrong?: boolean
  described?: string
  compact?: boolean
  look?: string
}>()
const value = defineModel<string | number | null>({ required: true })
const anchor = useTemplateRef('anchor')
const offered = computed<readonly Choice[]>(() =>
  props.empty === undefined ? props.options : [{ value: null, name: props.empty }, ...props.options],
)
const shown = computed(() => offered.value.find((choice) => choice.value === value.value)?.name.trim() ?? '')
/** Ctrl+Enter is the form's, here as in every field: it does not open the list. */
function onEnter(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault()
    event.stopImmediatePropagation()
    anchor.value?.closest('form')?.requestSubmit()
  }
}
</script>

<template>
  <Listbox v-slot="{ open }" v-model="value" :disabled="disabled">
    <div ref="anchor" class="min-w-0" @keydown.enter.capture="onEnter">
      <ListboxButton
        :id="id"
        :aria-labelledby="`${labelId} ${id}`"
        :aria-describedby="described"
        :aria-invalid="wrong || undefined"
        class="field flex items-center justify-between gap-1 text-left"
        :class="[compact && 'field-compact', wrong && 'field-wrong', look]"
      >
        <span class="truncate">{{ shown || '\u00a0' }}</span>
        <ChevronDown class="size-3.5 shrink-0 text-soft" aria-hidden="true" />
      </ListboxButton>
      <UiFloating v-if="open" :anchor="anchor" is-as-wide>
        <ListboxOptions static class="py-1 outline-none" aria-label="Choices">
          <ListboxOption
            v-for="option in offered"
            :key="String(option.value)"
            v-slot="{ active, selected }"
            :value="option.value"
            as="template"
          >
            <li class="floating-option" :class="active && 'bg-wash'">
              <span class="min-w-0 flex-1 whitespace-pre">{{ option.name }}</span>
              <Check v-if="selected" class="size-3.5 shrink-0" aria-hidden="true" />
            </li>
          </ListboxOption>
        </ListboxOptions>
      </UiFloating>
    </div>
  </Listbox>
</template>
