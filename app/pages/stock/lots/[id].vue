<script setup lang="ts">
import { LINES_WITH_TOOLS, type DataColumn } from '~/composables/ui/data-column'
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const { day, isPast } = usePrint()
const { data: lot, refresh } = orNotFound(await useFetch(() => `/api/stock/lots/${id.value}`))
const tab = ref(String(route.query.tab ?? 'lies'))
const editing = ref(false)
const labelling = ref(false)
useHead({ title: () => `Lot ${lot.value?.number} · Tsumiki` })
const TABS = computed(() => [
  { key: 'lies', name: 'Where it lies' },
  ...(lot.value?.pieces.length ? [{ key: 'pieces', name: 'Pieces', count: lot.value.pieces.length }] : []),
  { key: 'back', name: 'What is in it' },
  { key: 'forward', name: 'Where it went' },
  { key: 'moves', name: 'Moves' },
])
const facts = computed(() =>
  lot.value
    ? [
        ['Supplier’s number', lot.value.supplierNumber],
        ['Made', day(lot.value.madeOn)],
        ['Received', day(lot.value.receivedOn)],
        ['Best before', day(lot.value.bestBeforeOn)],
        ...Object.entries(lot.value.traits),
        ['Note', lot.value.note],
      ].filter(([, value]) => value)
    : [],
)
const PIECES: readonly DataColumn[] = [
  { key: 'label', name: 'Piece', width: 160 },
  { key: 'parent', name: 'Cut from', width: 160 },
  { key: 'traits', name: 'Traits', wrap: true },
  { key: 'original', name: 'Was', kind: 'quantity', unit: 'symbol', width: 120 },
  { key: 'remaining', name: 'Remains', kind: 'quantity', unit: 'symbol', width: 220 },
]
const pieces = computed(() =>
  (lot.value?.pieces ?? []).map((piece) => ({
    ...piece,
    symbol: lot.value!.symbol,
    traits: Object.entries(piece.traits)
      .map(([name, value]) => `${name} ${value}`)
      .join(', '),
  })),
)
</script>

<template>
  <div v-if="lot">
    <UiHead title="">
      <template #title
        ><span class="inline-flex items-baseline gap-3"
          >Lot {{ lot.number }}<UiItemChip :id="lot.itemId" :code="lot.code" :name="lot.name" /></span
      ></template>
      <UiTag v-if="lot.expiresOn" :tone="isPast(lot.expiresOn) ? 'problem' : 'plain'"
        >expires {{ day(lot.expiresOn) }}</UiTag
      >
      <UiButton @click="labelling = true">{{ lot.pieces.length ? 'Print labels' : 'Print its label' }}</UiButton>
      <UiButton v-if="session.allows('stock')" @click="editing = true">Edit what is recorded</UiButton>
    </UiHead>
    <dl v-if="facts.length" class="mb-4 flex flex-wrap gap-x-8 gap-y-1">
      <div v-for="[name, value] in facts" :key="name" class="flex gap-2">
        <dt class="text-soft">{{ name }}</dt>
        <dd class="font-medium">{{ value }}</dd>
      </div>
    </dl>
    <UiTabs v-model="tab" :tabs="TABS" />
    <Suspense :key="`${tab} ${lot.version}`">
      <StockLies v-if="tab === 'lies'" :lot="lot.id" @correct="navigateTo(`/stock?correct=${lot.itemId}`)" />
      <UiSheet v-else-if="tab === 'pieces'" flush>
        <UiDataTable
          list="pieces of a lot"
          is-embedded
          :is-plain="pieces.length < LINES_WITH_TOOLS"
          :columns="PIECES"
          :rows="pieces"
          label="Pieces"
          :open="(row) => navigateTo(`/stock/pieces/${row.id}`)"
        >
          <template #label="{ row }"
            ><NuxtLink :to="`/stock/pieces/${row.id}`" class="font-medium hover:underline">{{
              row.label
            }}</NuxtLink></template
          >
          <template #remaining="{ row }"
            ><span class="inline-flex items-center gap-2"
              ><span class="w-20"><StockRemains :original="row.original" :remains="row.remaining" /></span
              ><UiQty strong :of="row.remaining" :unit="lot.symbol" /></span
          ></template>
        </UiDataTable>
      </UiSheet>
      <StockTrace v-else-if="tab === 'back' || tab === 'forward'" kind="lots" :of="lot.id" :direction="tab" />
      <StockMoves v-else :lot="lot.id" />
    </Suspense>
    <StockLabels
      v-if="labelling"
      :things="
        lot.pieces.length
          ? lot.pieces.filter((p) => p.remaining !== '0').map((p) => ({ lotId: null, pieceId: p.id, name: p.label }))
          : [{ lotId: lot.id, pieceId: null, name: lot.number }]
      "
      @close="labelling = false"
    />
    <StockEditLot
      v-if="editing"
      :lot="lot"
      @done="
        () => {
          editing = false
          refresh()
        }
      "
      @close="editing = false"
    />
  </div>
</template>
