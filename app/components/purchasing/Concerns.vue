<script setup lang="ts">
import type { TermsConcern } from '~~/shared/purchasing/answers'

/** What is odd about the lines of an order by the supplier's terms, with what would be right to take. */
defineProps<{ concerns: readonly TermsConcern[] }>()
const emit = defineEmits<{ take: [concern: TermsConcern] }>()
</script>

<template>
  <section v-if="concerns.length > 0" class="mt-4 border-t border-line pt-3" aria-label="Against the terms">
    <h2 class="font-semibold">Against the terms</h2>
    <ul class="mt-1">
      <li
        v-for="concern in concerns"
        :key="`${concern.line} ${concern.field}`"
        class="flex items-center gap-2 py-1"
        data-test="concern"
      >
        <span class="text-brick">{{ concern.detail }}</span>
        <UiButton v-if="concern.right" small @click="emit('take', concern)">
          {{ 'dueOn' in concern.right ? `Due date ${concern.right.text}` : `Order ${concern.right.text}` }}
        </UiButton>
      </li>
    </ul>
    <p class="mt-1 text-fine text-soft">Entered all the same, the order keeps it, and says so.</p>
  </section>
</template>
