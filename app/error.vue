<script setup lang="ts">
import type { NuxtError } from '#app'

const props = defineProps<{ error: NuxtError }>()
const text = computed(() =>
  props.error.statusCode === 404
    ? 'There is nothing at this address.'
    : ((props.error.data as { detail?: string } | undefined)?.detail ?? props.error.message),
)
</script>

<template>
  <main class="grid min-h-screen place-items-center p-8">
    <div class="max-w-md text-center">
      <GoodsBlock state="missing" class="mx-auto mb-4 h-10 w-24" />
      <p class="mb-4 text-lg">{{ text }}</p>
      <UiButton primary @click="clearError({ redirect: '/' })">Go to Today</UiButton>
    </div>
  </main>
</template>
