<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { X } from '@lucide/vue'

/** What is looked at beside the page, without leaving it; on a phone it fills the screen. Escape closes it. */
defineProps<{ title: string }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/20" aria-hidden="true" />
    <div class="fixed inset-y-0 right-0 flex max-sm:left-0">
      <DialogPanel class="flex w-full flex-col border-line bg-sheet shadow-xl sm:w-[30rem] sm:border-l">
        <div class="flex items-start gap-3 border-b border-line px-5 py-3">
          <DialogTitle class="min-w-0 flex-1 text-lg leading-snug font-semibold"
            ><slot name="title">{{ title }}</slot></DialogTitle
          >
          <button
            type="button"
            class="-mr-1 rounded-block p-1.5 text-soft hover:bg-wash hover:text-ink"
            aria-label="Close"
            @click="emit('close')"
          >
            <X class="size-4" />
          </button>
        </div>
        <div class="min-h-0 flex-1 overflow-y-auto px-5 py-4" tabindex="0" :aria-label="title" role="region">
          <slot />
        </div>
        <div v-if="$slots.foot" class="flex flex-wrap justify-end gap-2 border-t border-line px-5 py-3">
          <slot name="foot" />
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
