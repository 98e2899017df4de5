<script setup lang="ts">
import { refDebounced } from '@vueuse/core'

const props = defineProps<{ search: string }>()
const { day } = usePrint()
const page = ref(1)
const slow = refDebounced(
  toRef(() => props.search),
  150,
)
watch(slow, () => {
  page.value = 1
})
const { data, error } = await useFetch('/api/stock/transfers', {
  query: computed(() => ({ search: slow.value, page: page.value, size: 50 })),
})
const COLUMNS = [
  { key: 'number', name: 'Transfer' },
  { key: 'way', name: 'From → to' },
  { key: 'summary', name: 'Brings', wrap: true },
  { key: 'leavesOn', name: 'Leaves' },
  { key: 'dueOn', name: 'Due' },
  { key: 'state', name: 'State' },
]
</script>

<template>
  <UiSheet flush>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiTable
      :columns="COLUMNS"
      :rows="data?.rows ?? []"
      label="Transfers"
      :open="(row) => navigateTo(`/stock/transfers/${row.id}`)"
      :muted="(row) => row.status !== 'open'"
    >
      <template #number="{ row }"
        ><NuxtLink :to="`/stock/transfers/${row.id}`" class="font-medium hover:underline">{{
          row.number
        }}</NuxtLink></template
      >
      <template #way="{ row }"
        ><span class="text-soft">{{ row.from }}</span> → {{ row.to }}</template
      >
      <template #leavesOn="{ row }">{{ day(row.leavesOn) }}</template>
      <template #dueOn="{ row }"
        ><span :class="row.late && 'font-semibold text-brick'">{{ day(row.dueOn) }}</span></template
      >
      <template #state="{ row }"
        ><span class="flex items-center gap-2"
          ><GoodsBlock
            :state="row.state === 'on the way' ? 'coming' : row.state === 'to leave' ? 'coming planned' : 'on hand'"
            class="h-3 w-5 border"
          />{{ row.state }}</span
        ></template
      >
    </UiTable>
    <UiEmpty
      v-if="data && data.rows.length === 0"
      title="No transfers yet"
      summary="Write down what goes from one site to another; it is on its way until it is received."
      ><UiButton @click="navigateTo('/stock/transfers/new')">New transfer</UiButton></UiEmpty
    >
    <UiPages v-model="page" :total="data?.total ?? 0" :size="50" />
  </UiSheet>
</template>
