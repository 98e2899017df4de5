<script setup lang="ts">
const props = defineProps<{ total: number; size: number }>()
const page = defineModel<number>({ required: true })
const last = computed(() => Math.max(1, Math.ceil(props.total / props.size)))
</script>

<template>
  <nav
    v-if="total > size"
    class="flex items-center gap-3 border-t border-line px-3 py-2 text-fine text-soft"
    aria-label="Pages"
  >
    <UiButton small :disabled="page <= 1" @click="page--">Earlier</UiButton>
    <span>{{ (page - 1) * size + 1 }}–{{ Math.min(page * size, total) }} of {{ total }}</span>
    <UiButton small :disabled="page >= last" @click="page++">Later</UiButton>
  </nav>
</template>
