<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'

const props = defineProps<{ planId: number; node: string; first: string; last: string }>()
const emit = defineEmits<{ close: [] }>()
const { day } = usePrint()
const { data, error } = await useFetch(() => `/api/planning/plans/${props.planId}/made-of`, {
  query: { node: props.node, first: props.first, last: props.last },
})
const LINES = [
  ['wanted', 'Wanted', 'missing'],
  ['coming', 'Coming', 'coming'],
  ['planned', 'Planned to be there', 'coming planned'],
  ['released', 'To be released', 'making planned'],
  ['lost', 'Lost', 'held'],
] as const
const groups = computed(() =>
  LINES.map(([line, name, state]) => ({
    line,
    name,
    state,
    parts: data.value?.parts.filter((part) => part.line === line) ?? [],
  })).filter((group) => group.parts.length > 0),
)
</script>

<template>
  <Dialog :open="true" class="relative z-40" @close="emit('close')">
    <div class="fixed inset-0 bg-ink/30" aria-hidden="true" />
    <div class="fixed inset-0 flex items-start justify-center overflow-y-auto p-8">
      <DialogPanel class="mt-6 w-full max-w-xl rounded-md border border-line bg-sheet shadow-xl">
        <DialogTitle class="border-b border-line px-5 py-3 text-base font-semibold"
          >{{ data?.code }}
          <span class="font-normal text-soft"
            >{{ data?.name }}, {{ first === last ? day(first) : `${day(first)} to ${day(last)}` }}</span
          ></DialogTitle
        >
        <div class="max-h-[62vh] overflow-y-auto px-5 py-4">
          <UiProblem v-if="error" :text="problemOf(error).detail" />
          <template v-else-if="data">
            <p class="flex justify-between">
              <span class="text-soft">There before</span><b>{{ data.before }}</b>
            </p>
            <section v-for="group in groups" :key="group.line" class="mt-3">
              <h3 class="flex items-center gap-2 font-semibold">
                <GoodsBlock :state="group.state" class="h-3 w-5" />{{ group.name }}
              </h3>
              <ul>
                <li
                  v-for="(part, index) in group.parts"
                  :key="index"
                  class="grid grid-cols-[5rem_1fr_auto] gap-2 border-b border-line/60 py-1 last:border-0"
                >
                  <span class="text-soft">{{ day(part.day) }}</span><span>{{ part.label }}</span
                  ><span class="text-right">{{ part.quantity }}</span>
                </li>
              </ul>
            </section>
            <p v-if="groups.length === 0" class="mt-2 text-soft">Nothing happens to it in these days.</p>
            <p class="mt-3 flex justify-between border-t border-line pt-2">
              <span class="text-soft">There after</span><b>{{ data.after }}</b>
            </p>
          </template>
        </div>
        <div class="flex justify-end border-t border-line px-5 py-3">
          <UiButton @click="emit('close')">Close</UiButton>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
