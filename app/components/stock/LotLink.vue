<script setup lang="ts">
defineProps<{ lotId: number | null; lot: string | null; pieceId?: number | null; piece?: string | null }>()
</script>

<template>
  <span
    class="inline-flex flex-wrap items-baseline gap-x-1.5 [&>a]:min-h-[24px] [&>a]:min-w-[24px] [&>a]:leading-[24px]"
  >
    <NuxtLink v-if="pieceId" :to="`/stock/pieces/${pieceId}`" class="font-medium hover:underline">{{ piece }}</NuxtLink>
    <NuxtLink v-if="lotId" :to="`/stock/lots/${lotId}`" class="hover:underline" :class="pieceId ? 'text-soft' : ''">{{
      lot
    }}</NuxtLink>
  </span>
</template>
