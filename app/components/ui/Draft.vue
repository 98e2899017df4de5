<script setup lang="ts">
/** Tells that a form goes on with what was typed before, and lets it be begun anew. */
defineProps<{ since: string | null }>()
const emit = defineEmits<{ anew: [] }>()
const { clock } = usePrint()
</script>

<template>
  <p v-if="since" role="status" class="mb-3 flex items-center gap-3 text-soft">
    This goes on with what you had typed on {{ clock(since) }}.
    <UiButton small @click="emit('anew')">Begin anew</UiButton>
  </p>
</template>
