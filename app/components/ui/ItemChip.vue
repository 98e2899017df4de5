<script setup lang="ts">
/** `isInGrid`: arrows lead to its cell, so it is no stop of the Tab key itself. */
defineProps<{ id: number; code: string; name?: string; isInGrid?: boolean }>()
const sheets = useSheets()
</script>

<template>
  <span class="inline-flex max-w-full items-baseline gap-2">
    <button
      type="button"
      data-chip
      :tabindex="isInGrid ? -1 : undefined"
      class="min-h-[24px] rounded-block border border-line bg-wash px-1.5 py-px text-left font-medium whitespace-nowrap text-ink hover:border-maple"
      @click.stop="sheets.open(id)"
    >
      {{ code }}
    </button>
    <span v-if="name" class="item-name max-w-80 truncate text-soft @max-5xl:max-w-36 @max-xl:max-w-52">{{ name }}</span>
  </span>
</template>
