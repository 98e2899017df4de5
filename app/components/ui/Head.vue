<script setup lang="ts">
defineProps<{ title: string; summary?: string }>()
</script>

<template>
  <header class="mb-4 flex flex-wrap items-end justify-between gap-3">
    <div>
      <h1 class="text-xl font-semibold">
        <slot name="title">{{ title }}</slot>
      </h1>
      <p v-if="summary" class="text-soft">{{ summary }}</p>
    </div>
    <div class="flex flex-wrap items-center gap-2"><slot /></div>
  </header>
</template>
