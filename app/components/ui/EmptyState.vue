<script setup lang="ts">
defineProps<{ title: string; summary?: string }>()
</script>

<template>
  <div class="grid place-items-center gap-2 px-6 py-12 text-center">
    <div class="flex items-end gap-1" aria-hidden="true">
      <GoodsBlock state="on hand" class="h-6 w-10" /><GoodsBlock state="coming planned" class="h-6 w-7" /><GoodsBlock
        state="missing"
        class="h-6 w-9"
      />
    </div>
    <p class="text-base font-semibold">{{ title }}</p>
    <p v-if="summary" class="max-w-md text-soft">{{ summary }}</p>
    <div class="mt-2 flex gap-2"><slot /></div>
  </div>
</template>
