<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import type { HelpText } from '~/composables/ui/help-texts'

/** A “?” that opens what a term means, with an example. In its field, F1 opens it; Escape closes it. */
defineProps<{ help: HelpText; labelId: string }>()
const anchor = useTemplateRef('anchor')
const isOpen = ref(false)
const panelId = useId()
function close(event?: Event): void {
  if (isOpen.value) {
    event?.stopPropagation()
    isOpen.value = false
  }
}
onClickOutside(anchor, () => close())
defineExpose({
  toggle: () => {
    isOpen.value = !isOpen.value
  },
  close,
})
</script>

<template>
  <div ref="anchor" @keydown.esc="close">
    <button
      type="button"
      aria-label="Explain"
      title="Explain (F1)"
      :aria-describedby="labelId"
      :aria-expanded="isOpen"
      :aria-controls="isOpen ? panelId : undefined"
      tabindex="-1"
      class="size-[24px] rounded-block text-fine text-soft hover:bg-wash hover:text-ink"
      @click="isOpen = !isOpen"
    >
      ?
    </button>
    <UiFloating v-if="isOpen" :id="panelId" :anchor="anchor" class="block w-72 p-3" role="note">
      {{ help.text }}
      <span class="mt-2 block text-soft">{{ help.example }}</span>
    </UiFloating>
  </div>
</template>
