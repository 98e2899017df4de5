<script setup lang="ts">
/** Why an order is planned: the chain of its numbers, then whom it is for. Fetches them itself. */
const props = defineProps<{ planId: number; orderId: number }>()
const { day } = usePrint()
const { data, error } = await useFetch(() => `/api/planning/plans/${props.planId}/why/${props.orderId}`)
const chain = computed(() => (data.value ? whyChain(data.value, day) : []))
function blockOfLink(name: string): 'missing' | 'on hand' | 'coming planned' | 'making planned' {
  if (name === 'Net requirement') {
    return 'missing'
  }
  if (name === 'After') {
    return 'on hand'
  }
  return data.value?.kind === 'buy' || data.value?.kind === 'move' ? 'coming planned' : 'making planned'
}
</script>

<template>
  <div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <template v-if="data">
      <ol class="mb-4" data-test="why">
        <li v-for="(link, index) in chain" :key="link.name" class="relative flex gap-3 pb-3">
          <span class="flex flex-col items-center"
            ><GoodsBlock :state="blockOfLink(link.name)" class="mt-0.5 h-4 w-6 shrink-0" /><span
              v-if="index < chain.length - 1"
              class="mt-1 w-px flex-1 bg-line"
          /></span>
          <span
            ><b class="font-semibold">{{ link.name }}</b
            ><br />{{ link.summary }}</span
          >
        </li>
      </ol>
      <h3 class="mb-1 font-semibold">Who it is for</h3>
      <PlanningReasons v-if="data.reasons.length" :reasons="data.reasons" />
      <p v-else class="text-soft">No order or forecast asks for it: it keeps the safety stock.</p>
    </template>
  </div>
</template>
