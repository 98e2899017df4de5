<script setup lang="ts">
import type { BuildAnswer } from '~~/shared/workshop/answers'

const props = defineProps<{ outputs: BuildAnswer['outputs'] }>()
const { amount } = usePrint()
const printing = ref(false)
/** What has a lot or a piece of its own gets a label. */
const labelled = computed(() =>
  props.outputs
    .filter((output) => output.lotId !== null || output.pieceId !== null)
    .map(({ lotId, pieceId, code, lot, piece }) => ({ lotId, pieceId, name: `${code} ${piece ?? lot}` })),
)
</script>

<template>
  <UiSheet title="Output" flush class="mb-4">
    <template #head><UiButton v-if="labelled.length" small @click="printing = true">Print labels</UiButton></template>
    <ul>
      <li
        v-for="(output, index) in outputs"
        :key="index"
        class="flex items-center gap-3 border-b border-line/60 px-4 py-2 last:border-0"
      >
        <GoodsBlock state="on hand" class="h-3.5 w-6" /><b class="font-medium"
          >{{ amount(output.quantity, 6) }} {{ output.symbol }} {{ output.code }}</b
        ><NuxtLink v-if="output.pieceId" :to="`/stock/pieces/${output.pieceId}`" class="underline">{{
          output.piece
        }}</NuxtLink
        ><NuxtLink v-if="output.lotId" :to="`/stock/lots/${output.lotId}`" class="underline"
          >lot {{ output.lot }}</NuxtLink
        >
      </li>
    </ul>
    <StockLabels v-if="printing" :things="labelled" @close="printing = false" />
  </UiSheet>
</template>
