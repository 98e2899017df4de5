<script setup lang="ts">
const route = useRoute()
const id = computed(() => Number(route.params.id))
const session = useSession()
const { data: piece, refresh } = orNotFound(await useFetch(() => `/api/stock/pieces/${id.value}`))
const tab = ref(String(route.query.tab ?? 'lies'))
const editing = ref(false)
const cutting = ref(false)
const labelling = ref(false)
const times = ref(0)
useHead({ title: () => `Piece ${piece.value?.label} · Tsumiki` })
const facts = computed(() =>
  piece.value
    ? [...Object.entries({ ...piece.value.lotTraits, ...piece.value.traits }), ['Note', piece.value.note]].filter(
        ([, value]) => value,
      )
    : [],
)
const TABS = [
  { key: 'lies', name: 'Where it lies' },
  { key: 'back', name: 'What is in it' },
  { key: 'forward', name: 'Where it went' },
  { key: 'moves', name: 'Moves' },
]
async function done(): Promise<void> {
  editing.value = cutting.value = false
  times.value++
  await refresh()
}
</script>

<template>
  <div v-if="piece">
    <UiHead title="">
      <template #title
        ><span class="inline-flex items-baseline gap-3"
          >Piece {{ piece.label }}<UiItemChip :id="piece.itemId" :code="piece.code" :name="piece.name" /></span
      ></template>
      <UiButton @click="labelling = true">Print its label</UiButton
      ><template v-if="session.allows('stock')"
        ><UiButton @click="editing = true">Edit what is recorded</UiButton
        ><UiButton v-if="piece.remaining !== '0'" primary @click="cutting = true">Cut some off</UiButton></template
      >
    </UiHead>
    <div class="mb-4 flex flex-wrap items-center gap-x-8 gap-y-1">
      <span class="inline-flex items-center gap-3"
        ><span class="w-48"><StockRemains :original="piece.original" :remains="piece.remaining" /></span
        ><span
          ><UiQty strong :of="piece.remaining" :unit="piece.symbol" />{{ ' ' }}
          <span class="text-soft">of <UiQty :of="piece.original" :unit="piece.symbol" /></span></span
      ></span>
      <span v-if="piece.lotId"
        ><span class="text-soft">Lot</span>{{ ' ' }}
        <NuxtLink :to="`/stock/lots/${piece.lotId}`" class="font-medium hover:underline">{{
          piece.lot
        }}</NuxtLink></span
      >
      <span v-if="piece.parentId"
        ><span class="text-soft">Cut from</span>{{ ' ' }}
        <NuxtLink :to="`/stock/pieces/${piece.parentId}`" class="font-medium hover:underline">{{
          piece.parent
        }}</NuxtLink></span
      >
      <span v-for="[name, value] in facts" :key="name"
        ><span class="text-soft">{{ name }}</span> <b class="font-medium">{{ value }}</b></span
      >
      <span v-if="piece.cut.length"
        ><span class="text-soft">Cut off it</span>{{ ' ' }}
        <template v-for="(part, index) in piece.cut" :key="part.id"
          ><template v-if="index">, </template
          ><NuxtLink :to="`/stock/pieces/${part.id}`" class="hover:underline">{{ part.label }}</NuxtLink></template
        ></span
      >
    </div>
    <UiTabs v-model="tab" :tabs="TABS" />
    <Suspense :key="`${tab} ${times}`">
      <StockLies
        v-if="tab === 'lies'"
        :piece="piece.id"
        @correct="navigateTo(`/stock?correct=${piece.itemId}`)"
        @moved="refresh"
      />
      <StockTrace v-else-if="tab === 'back' || tab === 'forward'" kind="pieces" :of="piece.id" :direction="tab" />
      <StockMoves v-else :piece="piece.id" />
    </Suspense>
    <StockEditPiece v-if="editing" :piece="piece" @done="done" @close="editing = false" />
    <StockLabels
      v-if="labelling"
      :things="[{ lotId: null, pieceId: piece.id, name: piece.label }]"
      @close="labelling = false"
    />
    <StockCut v-if="cutting" :piece="piece" @done="done" @close="cutting = false" />
  </div>
</template>
