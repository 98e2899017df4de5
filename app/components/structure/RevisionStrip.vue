<script setup lang="ts">
import type { Revision } from '~~/shared/structure-answers'

defineProps<{ revisions: readonly Revision[]; shown: number | null }>()
const emit = defineEmits<{ show: [id: number] }>()
const { day } = usePrint()
const says = (one: Revision): string =>
  one.state === 'draft'
    ? 'draft'
    : one.state === 'current'
      ? `in use since ${day(one.fromOn)}`
      : one.state === 'to come'
        ? `from ${day(one.fromOn)}`
        : `past, from ${day(one.fromOn)}`
</script>

<template>
  <ol class="mb-3 flex flex-wrap gap-1.5" aria-label="Revisions">
    <li v-for="one in revisions" :key="one.id">
      <button
        type="button"
        :aria-current="one.id === shown ? 'true' : undefined"
        class="rounded-block border px-2.5 py-1 text-left"
        :class="[
          one.id === shown
            ? 'border-2 border-maple bg-sheet font-medium'
            : 'border-line bg-sheet text-soft hover:text-ink',
          one.state === 'draft' && 'border-dashed',
          one.state === 'past' && 'opacity-70',
        ]"
        @click="emit('show', one.id)"
      >
        Revision {{ one.revision }} <span class="text-fine text-soft">{{ says(one) }}</span>
      </button>
    </li>
  </ol>
</template>
