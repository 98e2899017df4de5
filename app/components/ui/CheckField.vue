<script setup lang="ts">
defineProps<{ label: string; error?: string; disabled?: boolean }>()
const value = defineModel<boolean>({ required: true })
</script>

<template>
  <div class="grid content-start gap-1 self-end pb-2">
    <label class="flex items-center gap-2"
      ><input
        v-model="value"
        type="checkbox"
        :disabled="disabled"
        :aria-invalid="Boolean(error)"
        class="size-4 accent-[var(--maple)]"
      />{{ label }}</label
    >
    <p v-if="error" role="alert" class="text-fine text-brick">{{ error }}</p>
  </div>
</template>
