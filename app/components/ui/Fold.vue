<script setup lang="ts">
import { ChevronRight } from '@lucide/vue'

defineProps<{ title: string; summary?: string; shortcut?: string; faults?: number }>()
const open = defineModel<boolean>({ required: true })
const id = useId()
</script>

<template>
  <section class="border-b border-line last:border-0">
    <h2>
      <button
        type="button"
        :aria-expanded="open"
        :aria-controls="id"
        class="flex w-full items-baseline gap-2 px-4 py-2 text-left hover:bg-wash"
        @click="open = !open"
      >
        <ChevronRight class="size-4 shrink-0 self-center text-soft transition-transform" :class="open && 'rotate-90'" />
        <span class="w-40 shrink-0 font-semibold">{{ title }}</span>
        <span class="min-w-0 flex-1 text-soft sm:truncate">{{ open ? '' : summary }}</span>
        <UiTag v-if="faults" tone="problem">{{ faults }} to mend</UiTag>
        <kbd
          v-if="shortcut"
          class="rounded-block border border-line px-1 font-sans text-fine text-soft"
          aria-hidden="true"
          >{{ shortcut }}</kbd
        >
      </button>
    </h2>
    <div v-if="open" :id="id" class="px-4 pt-1 pb-4 pl-10"><slot /></div>
  </section>
</template>
