<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

/** `records`: it moves stock or money; Enter goes from field to field there. */
const props = defineProps<{
  title: string
  act: string
  busy?: boolean
  problem?: string
  wide?: boolean
  disabled?: boolean
  records?: boolean
}>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ act: [] }>()
function confirm(): void {
  if (!props.busy && !props.disabled) {
    emit('act')
  }
}
const onEnter = useEnter(confirm, () => props.records)
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-ink/30" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center overflow-y-auto p-8">
      <DialogPanel
        as="form"
        class="mt-6 w-full rounded-md border border-line bg-sheet shadow-xl"
        :class="wide ? 'max-w-4xl' : 'max-w-xl'"
        @submit.prevent="confirm"
        @keydown.enter="onEnter"
      >
        <DialogTitle class="border-b border-line px-5 py-3 text-base font-semibold">{{ title }}</DialogTitle>
        <div class="max-h-[62vh] overflow-y-auto px-5 py-4"><slot /></div>
        <div v-if="problem" class="px-5 pb-3"><UiProblem :text="problem" /></div>
        <div class="flex justify-end gap-2 border-t border-line px-5 py-3">
          <UiButton @click="open = false">Leave it</UiButton>
          <UiButton primary type="submit" :busy="busy" :disabled="disabled">{{ act }}</UiButton>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
