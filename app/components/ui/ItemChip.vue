<script setup lang="ts">
defineProps<{ id: number; code: string; name?: string }>()
const sheets = useSheets()
</script>

<template>
  <span class="inline-flex max-w-full items-baseline gap-2">
    <button
      type="button"
      class="rounded-block border border-line bg-wash px-1.5 py-px text-left font-medium whitespace-nowrap hover:border-maple"
      @click.stop="sheets.open(id)"
    >
      {{ code }}
    </button>
    <span v-if="name" class="max-w-80 truncate text-soft @max-5xl:max-w-36">{{ name }}</span>
  </span>
</template>
