<script setup lang="ts">
defineProps<{ state: 'saved' | 'saving' | 'unsaved'; detail?: string; stale?: boolean; undoable?: boolean }>()
const emit = defineEmits<{ back: []; reload: []; undo: [] }>()
</script>

<template>
  <span
    class="flex items-center gap-2 text-fine"
    role="status"
    :class="state === 'unsaved' && detail ? 'text-brick' : 'text-soft'"
  >
    <span
      class="size-2.5 rounded-[2px] border-2"
      :class="state === 'saved' ? 'border-willow bg-willow' : detail ? 'border-brick' : 'border-maple'"
      aria-hidden="true"
    />
    {{ state === 'saved' ? 'Saved' : state === 'saving' ? 'Saving …' : detail ? 'Not saved yet' : 'Typing …' }}
    <UiButton v-if="state === 'unsaved' && detail && !stale" small @click="emit('back')">Discard the changes</UiButton>
    <UiButton v-if="state === 'saved' && undoable" small @click="emit('undo')">Undo</UiButton>
    <UiButton v-if="stale" small @click="emit('reload')">Reload</UiButton>
  </span>
</template>
