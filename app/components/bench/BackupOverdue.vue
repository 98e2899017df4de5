<script setup lang="ts">
/** Tells an owner where no backup was made of late. */
const { data } = await useLazyFetch('/api/company/backups')
</script>

<template>
  <UiProblem
    v-if="data?.isOverdue"
    class="mb-3"
    text="There is no backup of the last two days. Under your name, People and import, make one now and see why."
  />
</template>
