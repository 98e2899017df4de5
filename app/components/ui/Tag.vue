<script setup lang="ts">
defineProps<{ tone?: 'plain' | 'problem' | 'good' }>()
</script>

<template>
  <span
    class="inline-block rounded-block border px-1.5 text-fine whitespace-nowrap"
    :class="
      tone === 'problem'
        ? 'border-brick text-brick'
        : tone === 'good'
          ? 'border-willow text-ink'
          : 'border-line text-soft'
    "
    ><slot
  /></span>
</template>
