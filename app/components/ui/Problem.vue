<script setup lang="ts">
defineProps<{ text: string }>()
</script>

<template>
  <p v-if="text" role="alert" class="rounded-block border border-brick bg-brick/5 px-3 py-2 text-brick">{{ text }}</p>
</template>
