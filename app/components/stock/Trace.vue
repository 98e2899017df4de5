<script setup lang="ts">
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'
const props = defineProps<{ kind: 'lots' | 'pieces'; of: number; direction: 'back' | 'forward' }>()
const { day, amount } = usePrint()
const { data: trace, error } = await useFetch(() => `/api/stock/${props.kind}/${props.of}/trace`, {
  query: computed(() => ({ direction: props.direction })),
})
type Node = NonNullable<typeof trace.value>['nodes'][number]
const edgesOf = (node: Node) =>
  trace.value!.edges.filter((edge) => (props.direction === 'forward' ? edge.to : edge.from) === node.id)
const nameOf = (id: string): string => {
  const node = trace.value!.nodes.find((node) => node.id === id)
  return node ? `${node.code} ${node.piece ?? node.lot ?? ''}`.trim() : ''
}
/** What only may hold some: counted apart. */
const possible = computed(() => trace.value?.nodes.filter((node) => node.possible).length ?? 0)
/** As many as can be taken in at a glance; the table has all. */
const drawn = computed(() => (trace.value?.nodes.length ?? 0) <= 60)
const textOf = (edge: NonNullable<typeof trace.value>['edges'][number]): string =>
  `${edge.label} ${day(edge.on)}, ${amount(edge.quantity, 6)} ${edge.symbol} of ${nameOf(edge.from)}`
const COLUMNS: readonly DataColumn[] = [
  { key: 'level', name: 'Level', kind: 'number', width: 70 },
  { key: 'code', name: 'Item', width: 240, phone: 'lead' },
  { key: 'lot', name: 'Lot, piece', width: 170, wrap: true },
  { key: 'by', name: 'By', wrap: true, isSortable: false, text: (row: Node) => edgesOf(row).map(textOf).join('; ') },
  { key: 'onHand', name: 'Still in stock', kind: 'quantity', unit: 'symbol', width: 130, phone: 'side' },
  { key: 'madeFrom', name: 'Came from', width: 140, wrap: true },
  { key: 'shippedTo', name: 'Shipped to', width: 140, wrap: true },
]
</script>

<template>
  <div>
    <UiProblem v-if="error" :text="problemOf(error).detail" />
    <template v-if="trace">
      <UiSheet v-if="trace.nodes.length > 1 && drawn" class="mb-4"
        ><StockTracePicture :trace="trace" :direction="direction"
      /></UiSheet>
      <p v-if="possible > 0" class="mb-3" data-test="possibly">
        {{ trace.nodes.length - 1 - possible }} for sure; {{ possible }} possibly, as the way there leads through goods
        that are kept by quantity only, until first in, first out has used them up.
      </p>
      <UiSheet flush>
        <template #head
          ><a :href="`/api/stock/${kind}/${of}/recall?direction=${direction}`" download class="text-soft underline"
            >CSV for a recall</a
          ></template
        >
        <UiDataTable
          list="trace"
          is-embedded
          :is-plain="trace.nodes.length < LINES_WITH_TOOLS"
          :columns="COLUMNS"
          :rows="trace.nodes"
          :label="direction === 'back' ? 'What is in it' : 'Where it went'"
        >
          <template #code="{ row }"><UiItemChip :id="row.itemId" :code="row.code" :name="row.name" /></template>
          <template #lot="{ row }"
            ><StockLotLink :lot-id="row.lotId" :lot="row.lot" :piece-id="row.pieceId" :piece="row.piece" /><span
              v-if="!row.lotId && !row.pieceId"
              class="text-soft"
              >{{
                direction === 'forward'
                  ? 'kept by quantity only: what was made of it from then on possibly holds some'
                  : 'kept by quantity only: not followed further'
              }}</span
            ><UiTag v-if="row.possible" class="ml-1">possibly</UiTag></template
          >
          <template #by="{ row }"
            ><span v-for="edge in edgesOf(row)" :key="`${edge.from} ${edge.to} ${edge.postingId}`" class="block"
              >{{ edge.label }}
              <span class="text-soft"
                >{{ day(edge.on) }}, {{ amount(edge.quantity, 6) }} {{ edge.symbol }} of {{ nameOf(edge.from) }}</span
              ></span
            ></template
          >
          <template #onHand="{ row }"
            ><UiQty v-if="row.onHand !== '0'" strong :of="row.onHand" :unit="row.symbol"
          /></template>
        </UiDataTable>
        <UiEmptyState
          v-if="trace.nodes.length === 1"
          :title="direction === 'back' ? 'Nothing went into it here' : 'It went into nothing else yet'"
          :summary="
            direction === 'back'
              ? 'It was received or entered as it is.'
              : 'What is built from it, packed with it or cut from it will be shown here, through all levels.'
          "
        />
      </UiSheet>
    </template>
  </div>
</template>
