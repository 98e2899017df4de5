<script setup lang="ts">
/** What something was and what it becomes, both as they are printed. */
defineProps<{ before: string; after: string; unit?: string; warn?: boolean }>()
</script>

<template>
  <span>
    {{ before }} →
    <b class="font-semibold" :class="warn && 'text-brick'" data-test="after"
      >{{ after }}<span v-if="unit" class="font-normal text-soft">{{ ` ${unit}` }}</span></b
    >
  </span>
</template>
