<script setup lang="ts">
/** What stands above a list or a board. On a phone its choices and tools stand behind a button that `more` names. */
defineProps<{ more: string }>()
const hasOpened = ref(false)
</script>

<template>
  <div class="@container">
    <div class="flex flex-wrap items-center gap-2 px-3 py-2">
      <slot name="search" />
      <UiButton class="@xl:hidden" :aria-expanded="hasOpened" @click="hasOpened = !hasOpened">{{ more }}</UiButton>
      <div class="contents" :class="!hasOpened && '@max-xl:hidden'"><slot name="choices" /></div>
      <span class="flex-1 @max-xl:hidden" />
      <slot name="told" />
      <div class="contents" :class="!hasOpened && '@max-xl:hidden'"><slot name="tools" /></div>
    </div>
  </div>
</template>
