<script setup lang="ts">
/** What an act would change elsewhere, a sentence each. */
defineProps<{ effects: readonly string[] }>()
const SHOWN = 40
</script>

<template>
  <ul class="grid gap-1" aria-label="What it changes">
    <li v-for="effect in effects.slice(0, SHOWN)" :key="effect">{{ effect }}</li>
    <li v-if="effects.length > SHOWN" class="text-soft">and {{ effects.length - SHOWN }} more</li>
  </ul>
</template>
