<script setup lang="ts">
const { day, isPast } = usePrint()
const session = useSession()
const notices = useNotices()
const { data: orders, error, refresh } = await useFetch('/api/dispatch')
const serving = ref(false)
async function served(count: number): Promise<void> {
  serving.value = false
  notices.say({ kind: 'done', text: `Goods are set aside for ${count} ${plural(count, 'order', 'orders')}.` })
  void refreshToday()
  await refresh()
}
const search = ref('')
const shown = computed(() =>
  (orders.value ?? []).filter((order) =>
    `${order.number} ${order.customer} ${order.summary}`.toLowerCase().includes(search.value.toLowerCase()),
  ),
)
useHead({ title: 'Dispatch · Tsumiki' })
const COLUMNS = [
  { key: 'dueOn', name: 'Due' },
  { key: 'number', name: 'Order' },
  { key: 'customer', name: 'Customer' },
  { key: 'summary', name: 'Wants', wrap: true },
  { key: 'state', name: 'State' },
]
</script>

<template>
  <div>
    <UiHead title="Dispatch" summary="Allocate, pick and ship what is due."
      ><UiSearch v-model="search" label="Filter orders" /><UiButton
        v-if="session.allows('ship')"
        @click="serving = true"
        >Allocate for all</UiButton
      ></UiHead
    >
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <UiSheet flush>
      <UiTable
        :columns="COLUMNS"
        :rows="shown"
        label="Orders to ship"
        :open="(row) => navigateTo(`/dispatch/${row.id}`)"
      >
        <template #dueOn="{ row }"
          ><span :class="isPast(row.dueOn) && 'font-semibold text-brick'">{{ day(row.dueOn) }}</span></template
        >
        <template #number="{ row }"
          ><NuxtLink :to="`/dispatch/${row.id}`" class="font-medium hover:underline">{{
            row.number
          }}</NuxtLink></template
        >
        <template #state="{ row }">
          <span v-if="row.allocated === row.lines" class="flex items-center gap-2"
            ><GoodsBlock state="allocated" class="h-3 w-5 border" />allocated, ready to ship</span
          >
          <span v-else-if="row.fillable === row.lines" class="flex items-center gap-2"
            ><GoodsBlock state="on hand" class="h-3 w-5 border" />everything is there</span
          >
          <span v-else class="flex items-center gap-2 text-brick"
            ><GoodsBlock state="missing" class="h-3 w-5 border" />{{ row.lines - row.fillable }} of {{ row.lines }}
            {{ plural(row.lines, 'line', 'lines') }} short</span
          >
        </template>
      </UiTable>
      <UiEmpty v-if="shown.length === 0" title="Nothing to ship" summary="No open sales order is here." />
    </UiSheet>
    <DispatchServe v-if="serving" @done="served" @close="serving = false" />
  </div>
</template>
