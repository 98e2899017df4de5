<script setup lang="ts">
import { Check } from '@lucide/vue'

defineProps<{
  steps: readonly { text: string; pictureId: number | null }[]
  done: readonly number[]
  revision: number
}>()
const emit = defineEmits<{ turn: [at: number] }>()
</script>

<template>
  <section aria-label="Steps" class="grid gap-3">
    <div
      v-for="(step, index) in steps"
      :key="index"
      class="flex items-start gap-4 rounded-md border border-line bg-sheet p-4"
    >
      <button
        type="button"
        class="grid size-12 shrink-0 place-items-center rounded-block border-2 text-xl font-semibold"
        :class="done.includes(index) ? 'border-maple bg-maple-face text-[#2a2520]' : 'border-line hover:bg-wash'"
        :aria-pressed="done.includes(index)"
        :aria-label="`Step ${index + 1} is done`"
        @click="emit('turn', index)"
      >
        <Check v-if="done.includes(index)" class="size-6" /><template v-else>{{ index + 1 }}</template>
      </button>
      <p class="flex-1 pt-1 text-xl leading-snug whitespace-pre-line" :class="done.includes(index) && 'text-soft'">
        {{ step.text }}
      </p>
      <img
        v-if="step.pictureId"
        :src="`/api/catalogue/pictures/${step.pictureId}`"
        :alt="`Picture of step ${index + 1}`"
        class="max-h-56 max-w-64 rounded-block border border-line object-contain"
      />
    </div>
    <UiEmptyState
      v-if="steps.length === 0"
      title="No steps are written"
      :summary="`Write them with revision ${revision} of the bill; they then stand here.`"
    />
  </section>
</template>
