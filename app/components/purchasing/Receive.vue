<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'
import type { ReceiptLine } from '~/composables/purchasing/use-receipt-measure'
import type { CameItem } from '~/composables/purchasing/use-substitutes'
import type { ReceivedPiece } from './Pieces.vue'

const props = defineProps<{
  order: {
    id: number
    number: string
    supplier: string
    version: number
    siteId: number | null
    orderedOn: string
    lines: readonly ReceiptLine[]
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const { asTyped } = usePrint()
const references = useReferences()
const { written, isPlainNumber } = useWritten()
const notices = useNotices()
const { busy, detail, fields, code, run } = useAct()
const packingList = ref('')
/** That the same list was received before is seen, and it belongs to this too. */
const sameList = ref(false)
watch(packingList, () => {
  sameList.value = false
})
const open = computed({ get: () => true, set: () => emit('close') })

const { measured, measureFor, openIn, change } = useReceiptMeasure()
const { cameOf, choose, drop, countsAs } = useSubstitutes()
const bins = useReceivingBins(() => props.order.siteId)
const rows = reactive(
  props.order.lines
    .filter((line) => !line.closedShort && openIn(line, line.unit) !== '0')
    .map((line) => ({
      line,
      measured: measured(line),
      quantity: '',
      unit: line.unit,
      binId: bins.value[0]?.id ?? null,
      chosen: false,
      why: '',
      lot: '',
      expiresOn: '',
      reason: '',
      traits: {} as Record<string, string>,
      pieces: [] as ReceivedPiece[],
      instead: null as CameItem | null,
      countsAs: '',
    })),
)
onMounted(async () => {
  const suggested = await $fetch('/api/stock/put-away', {
    query: {
      items: [...new Set(rows.map((row) => row.line.itemId))].join(','),
      ...(props.order.siteId === null ? {} : { site: props.order.siteId }),
    },
  })
  for (const row of rows) {
    const own = suggested.find((suggestion) => suggestion.itemId === row.line.itemId)
    if (own && !row.chosen) {
      row.binId = own.binId
      row.why = own.why
    }
  }
})
const scanning = useReceiptScan(rows, {
  measureFor,
  isFull: (row) => changeOf(row)?.left === '0' || changeOf(row)?.over === true,
  onCame: async (row, itemId) => (itemId === row.line.itemId ? drop(row) : choose(row, itemId)),
})
const effectiveOn = ref('')
const given = computed(() =>
  rows.filter((row) => row.quantity.trim() !== '' || row.pieces.some((piece) => piece.quantity.trim() !== '')),
)
/** Whether the order has changed since the draft was typed: what it names may have been received meanwhile. */
const hasChanged = ref(false)
/** What is typed is kept: a list in hand is typed once. */
const draft = useDraft(`goods in ${props.order.id}`, {
  read: () => ({
    version: props.order.version,
    packingList: packingList.value,
    effectiveOn: effectiveOn.value,
    rows: given.value.map(({ line, measured: own, chosen, why, ...typed }) => {
      void [own, chosen, why]
      return { lineId: line.id, typed }
    }),
  }),
  write: (state) => {
    hasChanged.value = state.version !== props.order.version
    packingList.value = state.packingList
    effectiveOn.value = state.effectiveOn
    for (const row of rows) {
      const kept = state.rows.find(({ lineId }) => lineId === row.line.id)
      Object.assign(
        row,
        kept ? { ...kept.typed, chosen: true } : { quantity: '', lot: '', reason: '', pieces: [], instead: null },
      )
    }
  },
})
/** What what came makes of its line: as it counts there. */
const changeOf = (row: (typeof rows)[number]) =>
  change(row.instead ? { line: row.line, quantity: countsAs(row), unit: row.line.unit } : row)
const wrongOf = (row: (typeof rows)[number], field: string): string | undefined => {
  const index = given.value.indexOf(row)
  return index < 0 ? undefined : fields.value[`lines.${index}.${field}`]
}

const act = computed(() => {
  const [row] = given.value
  if (!row || given.value.length > 1) {
    return `Receive ${given.value.length} lines`
  }
  if (cameOf(row).tracking === 'piece') {
    const count = row.pieces.filter((piece) => piece.quantity.trim() !== '').length
    return count === 0 ? 'Receive it as one piece' : `Receive ${count} ${plural(count, 'piece', 'pieces')}`
  }
  const read = changeOf(row)
  return isPlainNumber(row.quantity) || !read
    ? `Receive ${written(row.quantity, row.unit)}`
    : `Receive ${toText(ratio(read.after).sub(ratio(read.before)))} ${row.line.symbol}`
})

async function receive(): Promise<void> {
  const lines = given.value.map((row) => ({
    lineId: row.line.id,
    quantity: row.quantity,
    unit: row.unit,
    substituteId: row.instead?.itemId ?? null,
    countsAs: row.instead ? countsAs(row) : null,
    binId: row.binId,
    lot: row.lot,
    expiresOn: row.expiresOn || null,
    reason: row.reason,
    traits: cameOf(row).tracking === 'piece' ? {} : row.traits,
    pieces: row.pieces.filter((piece) => piece.quantity.trim() !== ''),
  }))
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/receive`, {
      method: 'POST',
      body: {
        key,
        version: props.order.version,
        packingList: packingList.value,
        sameList: sameList.value,
        effectiveOn: effectiveOn.value,
        lines,
      },
    }),
  )
  if (!done) {
    return
  }
  draft.discard()
  notices.say({
    kind: 'done',
    postingId: done.postingId ?? undefined,
    text: receivedText(done, references.symbol),
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`Goods in for ${order.number}, ${order.supplier}`"
    :act="act"
    :busy="busy"
    :disabled="given.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="receive"
  >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <UiProblem
      v-if="hasChanged"
      class="mb-3"
      text="The order has changed since you typed this: look whether it was received meanwhile, or begin anew."
    />
    <div class="mb-3 flex items-end gap-3">
      <UiTextField
        v-model="packingList"
        class="w-56"
        label="Packing list number"
        :error="fields.packingList"
      /><UiDateField
        v-model="effectiveOn"
        class="w-44"
        label="Received on"
        placeholder="today"
        :error="fields.effectiveOn"
      />
      <p class="pb-2 text-soft">Enter what came. A line left empty stays open.</p>
      <UiButton v-if="code === 'stale-version'" @click="emit('done')">Reload</UiButton>
    </div>
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <UiTextField
        v-model="scanning.text.value"
        data-receives="scan"
        class="w-64"
        label="Scan an item"
        :error="scanning.unknown.value"
        @keydown.enter.exact="scanning.onScan"
      />
      <label class="flex items-center gap-2 pb-2 pointer-coarse:min-h-[44px]"
        ><input v-model="scanning.countsOne.value" type="checkbox" class="size-4 accent-[var(--maple)]" />each scan
        counts one more</label
      >
      <p role="status" class="pb-2 font-semibold">{{ scanning.said.value }}</p>
    </div>
    <label v-if="fields.packingList || sameList" class="mb-3 flex items-center gap-2">
      <input v-model="sameList" type="checkbox" class="h-4 w-4 accent-[var(--maple)]" />That list covers this order too:
      receive it all the same
    </label>
    <div v-for="(row, index) in rows" :key="row.line.id" class="border-t border-line py-3">
      <div class="mb-2 flex items-baseline justify-between gap-3">
        <span
          ><b class="font-semibold">{{ row.line.code }}</b> <span class="text-soft">{{ row.line.name }}</span></span
        ><span class="text-soft"
          >to come <UiQty :of="openIn(row.line, row.line.unit)" :unit="references.symbol(row.line.unit)" strong />{{
            ' '
          }}
          <UiButton small @click="row.quantity = asTyped(openIn(row.line, row.unit))">all of it</UiButton></span
        >
      </div>
      <div class="grid grid-cols-1 md:grid-cols-[12rem_1fr_9rem_10rem] gap-3">
        <UiQuantityField
          v-model="row.quantity"
          v-model:unit="row.unit"
          :data-receives="row.line.id"
          :label="
            cameOf(row).tracking === 'piece'
              ? `On the packing list of ${cameOf(row).code}`
              : `Received of ${cameOf(row).code}`
          "
          :item="cameOf(row).measured"
          :error="wrongOf(row, 'quantity')"
          @keydown.enter.exact.capture="scanning.onQuantity($event, row)"
        />
        <UiChoice
          v-model="row.binId"
          label="Into"
          :hint="row.why || undefined"
          :options="bins.map((bin) => ({ value: bin.id, name: bin.name }))"
          :error="wrongOf(row, 'binId')"
          @update:model-value="row.chosen = true"
        />
        <UiTextField
          v-if="cameOf(row).tracking === 'lot'"
          v-model="row.lot"
          :label="`Lot of ${cameOf(row).code}`"
          :error="wrongOf(row, 'lot')"
        />
        <UiDateField
          v-if="cameOf(row).tracking === 'lot'"
          v-model="row.expiresOn"
          label="Expires on"
          :hint="cameOf(row).shelfLifeDays ? `else ${cameOf(row).shelfLifeDays} days from today` : undefined"
          :error="wrongOf(row, 'expiresOn')"
        />
      </div>
      <StockTraits
        v-if="cameOf(row).tracking === 'lot'"
        v-model="row.traits"
        class="mt-3"
        :group-id="cameOf(row).groupId"
        :fields="fields"
        :at="`lines.${given.indexOf(row)}.traits.`"
      />
      <PurchasingPieces
        v-if="cameOf(row).tracking === 'piece'"
        v-model="row.pieces"
        :code="cameOf(row).code"
        :group-id="cameOf(row).groupId"
        :measured="cameOf(row).measured"
        :measure="row.instead ? null : measureFor(row.line)"
        :listed="row.quantity"
        :unit="row.unit"
        :symbol="cameOf(row).symbol"
        :fields="fields"
        :at="`lines.${given.indexOf(row)}.pieces.`"
      />
      <PurchasingInstead
        :model-value="row"
        :errors="{ substituteId: wrongOf(row, 'substituteId'), countsAs: wrongOf(row, 'countsAs') }"
      />
      <UiTextField
        v-if="changeOf(row)?.isBeyond || row.reason || wrongOf(row, 'reason')"
        v-model="row.reason"
        class="mt-3 max-w-xl"
        :label="`Why ${row.line.code} is taken in all the same`"
        hint="more than was ordered, or expired"
        :error="wrongOf(row, 'reason')"
      />
      <PurchasingReceiptChange
        v-if="cameOf(row).tracking !== 'piece' && changeOf(row)"
        :change="changeOf(row)!"
        :symbol="row.line.symbol"
        :data-test="`change-${index}`"
      />
    </div>
  </UiDialog>
</template>
