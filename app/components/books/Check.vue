<script setup lang="ts">
const { data: comparison, refresh: compare, status } = await useFetch('/api/stock/comparison', { immediate: false })
</script>

<template>
  <UiSheet>
    <p class="mb-3 max-w-2xl">
      Balances are kept with every move. This works all of them out again from the moves alone and names each that
      differs; none should.
    </p>
    <UiButton primary :busy="status === 'pending'" @click="compare()">Work the balances out again</UiButton>
    <p v-if="comparison && comparison.length === 0" class="mt-3 flex items-center gap-2 font-medium">
      <GoodsBlock state="on hand" class="h-4 w-8" />Every balance equals the sum of its moves.
    </p>
    <ul v-else-if="comparison" class="mt-3 text-brick">
      <li v-for="(row, index) in comparison" :key="index">
        Item {{ row.itemId }} in {{ row.place }} {{ row.lot ?? '' }}: {{ row.onHand }} kept, {{ row.moved }} by the
        moves
      </li>
    </ul>
  </UiSheet>
</template>
