<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import type { HelpText } from '~/composables/ui/help-texts'

/** A “?” that opens what a term means, with an example. In its field, F1 opens it. */
defineProps<{ help: HelpText; labelId: string }>()
const anchor = useTemplateRef('anchor')
const panel = useTemplateRef('panel')
const button = useTemplateRef<{ el: HTMLElement | null }>('button')
const { floatingStyles } = useFloatingPanel(anchor, panel, { isAsWide: false })
defineExpose({ toggle: () => button.value?.el?.click() })
</script>

<template>
  <Popover v-slot="{ open }">
    <span ref="anchor">
      <PopoverButton
        ref="button"
        aria-label="Explain"
        title="Explain (F1)"
        :aria-describedby="labelId"
        tabindex="-1"
        class="size-[24px] rounded-block text-fine text-soft hover:bg-wash hover:text-ink"
        >?</PopoverButton
      >
    </span>
    <div v-if="open" ref="panel" class="floating" :style="floatingStyles">
      <PopoverPanel static class="w-72 p-3">
        <p>{{ help.text }}</p>
        <p class="mt-2 text-soft">{{ help.example }}</p>
      </PopoverPanel>
    </div>
  </Popover>
</template>
