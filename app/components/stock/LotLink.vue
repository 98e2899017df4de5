<script setup lang="ts">
defineProps<{ lotId: number | null; lot: string | null; pieceId?: number | null; piece?: string | null }>()
</script>

<template>
  <span class="inline-flex flex-wrap items-baseline gap-1.5">
    <NuxtLink v-if="pieceId" :to="`/stock/pieces/${pieceId}`" class="font-medium hover:underline">{{ piece }}</NuxtLink>
    <NuxtLink v-if="lotId" :to="`/stock/lots/${lotId}`" class="hover:underline" :class="pieceId ? 'text-soft' : ''">{{
      lot
    }}</NuxtLink>
  </span>
</template>
