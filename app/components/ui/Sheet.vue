<script setup lang="ts">
defineProps<{ title?: string; flush?: boolean }>()
</script>

<template>
  <section class="min-w-0 rounded-md border border-line bg-sheet">
    <div v-if="title || $slots.head" class="flex items-center justify-between gap-3 border-b border-line px-4 py-2">
      <h2 class="font-semibold">{{ title }}</h2>
      <div class="flex items-center gap-2"><slot name="head" /></div>
    </div>
    <div :class="flush ? '' : 'p-4'"><slot /></div>
  </section>
</template>
