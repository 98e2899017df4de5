<script setup lang="ts">
const session = useSession()
useHead({ title: 'Books · Tsumiki' })
</script>

<template>
  <BooksOverview v-if="session.allows('costs')" />
  <div v-else>
    <UiHead title="Books" />
    <UiSheet
      ><UiEmptyState
        title="The books are not for everybody here"
        summary="They show what things cost. An owner gives the right to see it under People and import."
    /></UiSheet>
  </div>
</template>
