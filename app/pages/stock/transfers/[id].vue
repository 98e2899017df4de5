<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'

const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const references = useReferences()
const { day, isPast } = usePrint()
const { data: transfer, refresh } = orNotFound(await useFetch(() => `/api/stock/transfers/${id.value}`))
const { busy, detail, run } = useAct()
const acting = ref<'ship' | 'receive' | 'lose' | null>(null)
useHead({ title: () => `${transfer.value?.number} · Tsumiki` })
type Line = NonNullable<typeof transfer.value>['lines'][number]
const left = (line: Line): string => {
  const rest = ratio(line.quantity).sub(ratio(line.shipped))
  return rest.compare(0) > 0 ? toText(rest) : '0'
}
const under = (line: Line): string => toText(ratio(line.shipped).sub(ratio(line.received)).sub(ratio(line.lost)))
const isOpen = computed(() => transfer.value?.status === 'open')
const toLeave = computed(() => isOpen.value && transfer.value!.lines.some((line) => left(line) !== '0'))
const onTheWay = computed(() => isOpen.value && transfer.value!.onTheWay.length > 0)
useKeys([
  {
    key: 's',
    summary: 'ship',
    act: () => {
      if (toLeave.value) {
        acting.value = 'ship'
      }
    },
  },
  {
    key: 'r',
    summary: 'receive',
    act: () => {
      if (onTheWay.value) {
        acting.value = 'receive'
      }
    },
  },
])
async function done(): Promise<void> {
  acting.value = null
  void refreshToday()
  await refresh()
}
async function end(): Promise<void> {
  if (
    await run(() =>
      $fetch(`/api/stock/transfers/${id.value}/end`, { method: 'POST', body: { version: transfer.value!.version } }),
    )
  ) {
    await done()
  }
}
const COLUMNS: readonly DataColumn[] = [
  { key: 'code', name: 'Item' },
  { key: 'quantity', name: 'To go', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'shipped', name: 'Has left', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'under', name: 'On the way', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'received', name: 'Arrived', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'lost', name: 'Missing', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'left', name: 'Still to leave', kind: 'quantity', unit: 'symbol', width: 120 },
]
const lines = computed(() =>
  (transfer.value?.lines ?? []).map((line) => ({ ...line, under: under(line), left: left(line) })),
)
</script>

<template>
  <div v-if="transfer">
    <UiHead
      :title="`${transfer.number}  ${transfer.from} → ${transfer.to}`"
      :summary="`Leaves ${day(transfer.leavesOn)}, due ${day(transfer.dueOn)}, written by ${transfer.who}${transfer.note ? ` · ${transfer.note}` : ''}`"
    >
      <UiTag v-if="!isOpen" tone="good">{{ transfer.status }}</UiTag><UiTag
        v-else-if="isPast(transfer.dueOn)"
        tone="problem"
        >late</UiTag
      >
      <template v-if="session.allows('stock')">
        <UiButton v-if="isOpen && !onTheWay" :busy="busy" @click="end">{{
          transfer.lines.some((line) => line.shipped !== '0') ? 'End it: the rest stays' : 'Cancel it'
        }}</UiButton>
        <UiButton v-if="onTheWay" @click="acting = 'lose'">Something is missing</UiButton>
        <UiButton v-if="toLeave" :primary="!onTheWay" @click="acting = 'ship'">Ship goods</UiButton>
        <UiButton v-if="onTheWay" primary @click="acting = 'receive'">Receive goods</UiButton>
      </template>
    </UiHead>
    <UiProblem :text="detail" class="mb-3" />
    <UiSheet flush class="mb-4">
      <UiDataTable
        list="transfer lines"
        is-embedded
        :is-plain="lines.length < LINES_WITH_TOOLS"
        :columns="COLUMNS"
        :rows="lines"
        label="Transfer lines"
      >
        <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
        <template #quantity="{ row }"
          ><UiQty strong :of="row.entered" :unit="references.symbol(row.unit)" /><span
            v-if="row.unit !== row.stockUnit"
            class="block text-fine text-soft"
            >= <UiQty :of="row.quantity" :unit="row.symbol" /></span
        ></template>
        <template v-for="key in ['shipped', 'received', 'lost'] as const" :key="key" #[key]="{ row }"
          ><UiQty v-if="row[key] !== '0'" :of="row[key]" :unit="row.symbol"
        /></template>
        <template #under="{ row }"
          ><span v-if="row.under !== '0'" class="inline-flex items-center gap-2" data-test="on-the-way"
            ><GoodsBlock state="coming" class="h-3 w-5 border" /><UiQty
              strong
              :of="row.under"
              :unit="row.symbol" /></span
        ></template>
        <template #left="{ row }"
          ><span v-if="row.left !== '0' && isOpen" class="inline-flex items-center gap-2"
            ><GoodsBlock state="coming planned" class="h-3 w-5 border" /><UiQty
              :of="row.left"
              :unit="row.symbol" /></span
        ></template>
      </UiDataTable>
    </UiSheet>
    <StockPostings :postings="transfer.postings" @reversed="done" />
    <StockShip v-if="acting === 'ship'" :transfer="transfer" @done="done" @close="acting = null" />
    <StockArrive
      v-else-if="acting"
      :transfer="transfer"
      :lost="acting === 'lose'"
      @done="done"
      @close="acting = null"
    />
  </div>
</template>
