<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { onKeyStroke } from '@vueuse/core'

const open = ref(false)
const pageKeys = usePageKeys()
onKeyStroke('?', () => {
  if (!isTyping()) {
    open.value = true
  }
})
onKeyStroke(['1', '2', '3', '4', '5', '6', '7', '8', '9'], (event) => {
  if (isTyping() || event.ctrlKey || event.metaKey || event.altKey) {
    return
  }
  unlessScanned(() => navigateTo(AREAS[Number(event.key) - 1]!.path))
})
const GENERAL = [
  { key: 'Ctrl K or /', summary: 'find anything' },
  { key: '1 … 9', summary: 'go to an area' },
  { key: '↑ ↓ Enter', summary: 'walk a list, open a line' },
  { key: 'Esc', summary: 'close, leave as it was' },
  { key: '?', summary: 'these keys' },
]
defineExpose({
  show: () => {
    open.value = true
  },
})
</script>

<template>
  <Dialog :open="open" class="relative z-50" @close="open = false">
    <div class="fixed inset-0 bg-ink/20" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center p-16">
      <DialogPanel class="w-full max-w-md rounded-md border border-line bg-sheet p-5 shadow-xl">
        <DialogTitle class="mb-3 text-base font-semibold">Keys</DialogTitle>
        <dl class="grid grid-cols-[7rem_1fr] gap-y-1.5">
          <template v-for="entry in [...pageKeys, ...GENERAL]" :key="entry.key"
            ><dt>
              <kbd class="rounded-block border border-line bg-wash px-1.5 font-sans font-medium">{{ entry.key }}</kbd>
            </dt>
            <dd>{{ entry.summary }}</dd></template
          >
        </dl>
        <UiButton class="mt-4" @click="open = false">Close</UiButton>
      </DialogPanel>
    </div>
  </Dialog>
</template>
