<script setup lang="ts">
import type { Revision } from '~~/shared/structure/answers'

defineProps<{ revisions: readonly Revision[]; shown: number | null }>()
const emit = defineEmits<{ show: [id: number] }>()
const { day } = usePrint()
const describe = (revision: Revision): string => {
  if (revision.state === 'draft') {
    return 'draft'
  }
  if (revision.state === 'current') {
    return `in use since ${day(revision.fromOn)}`
  }
  if (revision.state === 'to come') {
    return `from ${day(revision.fromOn)}`
  }
  return `past, from ${day(revision.fromOn)}`
}
</script>

<template>
  <ol class="mb-3 flex flex-wrap gap-1.5" aria-label="Revisions">
    <li v-for="revision in revisions" :key="revision.id">
      <button
        type="button"
        :aria-current="revision.id === shown ? 'true' : undefined"
        class="rounded-block border px-2.5 py-1 text-left"
        :class="[
          revision.id === shown ? 'border-2 border-maple bg-sheet font-medium' : 'border-line text-soft hover:text-ink',
          revision.id !== shown && (revision.state === 'past' ? 'bg-wash' : 'bg-sheet'),
          revision.state === 'draft' && 'border-dashed',
        ]"
        @click="emit('show', revision.id)"
      >
        Revision {{ revision.revision }} <span class="text-fine text-soft">{{ describe(revision) }}</span>
      </button>
    </li>
  </ol>
</template>
