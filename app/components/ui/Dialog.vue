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
    <div class="fixed inset-0 flex items-start justify-center overflow-y-auto sm:p-8">
      <DialogPanel
        as="form"
        class="flex w-full flex-col border-line bg-sheet shadow-xl max-sm:min-h-full sm:mt-6 sm:rounded-md sm:border"
        :class="wide ? 'max-w-4xl' : 'max-w-xl'"
        @submit.prevent="confirm"
        @keydown.enter="onEnter"
      >
        <DialogTitle class="border-b border-line px-5 py-3 text-base font-semibold">{{ title }}</DialogTitle>
        <div class="overflow-y-auto px-4 py-4 max-sm:flex-1 sm:max-h-[62vh] sm:px-5"><slot /></div>
        <div v-if="problem" class="px-5 pb-3"><UiProblem :text="problem" /></div>
        <div class="flex justify-end gap-2 border-t border-line px-5 py-3">
          <UiButton @click="open = false">Cancel</UiButton>
          <UiButton primary type="submit" :busy="busy" :disabled="disabled">{{ act }}</UiButton>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
