<script setup lang="ts">
/** What other packs and bridges would do to stock, open documents and bills. */
defineProps<{ effects: readonly string[] }>()
const SHOWN = 40
</script>

<template>
  <section aria-label="What it changes elsewhere">
    <p class="font-semibold">What is counted in these units is said differently from then on:</p>
    <ul class="mt-1 grid gap-1">
      <li v-for="effect in effects.slice(0, SHOWN)" :key="effect">{{ effect }}</li>
    </ul>
    <p v-if="effects.length > SHOWN" class="mt-1 text-soft">and {{ effects.length - SHOWN }} more</p>
  </section>
</template>
