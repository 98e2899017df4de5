<script setup lang="ts">
import type { OnTheWay } from '~~/shared/stock/answers'
const props = defineProps<{
  transfer: { id: number; number: string; to: string; toSiteId: number; version: number; onTheWay: readonly OnTheWay[] }
  lost: boolean
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const { amount, asTyped } = usePrint()
const { written } = useWritten()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const bins = computed(() =>
  references.bins.filter((bin) => bin.siteId === props.transfer.toSiteId && !bin.closedToReceiving),
)
const rows = reactive(
  props.transfer.onTheWay.map((load) => ({
    one: load,
    quantity: '',
    unit: load.stockUnit,
    binId: bins.value[0]?.id ?? null,
    why: '',
  })),
)
onMounted(async () => {
  const suggested = await $fetch('/api/stock/put-away', {
    query: { items: [...new Set(rows.map((row) => row.one.itemId))].join(','), site: props.transfer.toSiteId },
  })
  for (const row of rows) {
    const own = suggested.find((suggestion) => suggestion.itemId === row.one.itemId)
    if (own) {
      row.binId = own.binId
      row.why = own.why
    }
  }
})
const given = computed(() => rows.filter((row) => row.quantity.trim() !== ''))
const wrongOf = (row: (typeof rows)[number], field: string): string | undefined => {
  const index = given.value.indexOf(row)
  return index < 0 ? undefined : fields.value[`lines.${index}.${field}`]
}
const verb = computed(() => (props.lost ? 'Record missing:' : 'Receive'))
const act = computed(() =>
  given.value.length === 1
    ? `${verb.value} ${written(given.value[0]!.quantity, given.value[0]!.unit)}`
    : `${verb.value} ${given.value.length} lines`,
)
async function save(): Promise<void> {
  const lines = given.value.map((row) => ({
    lineId: row.one.lineId,
    lotId: row.one.lotId,
    pieceId: row.one.pieceId,
    quantity: row.quantity,
    unit: row.unit,
    ...(!props.lost && { binId: row.binId }),
  }))
  const done = await run<{ postingId: number }>((key) =>
    $fetch(`/api/stock/transfers/${props.transfer.id}/${props.lost ? 'lose' : 'receive'}`, {
      method: 'POST',
      body: { key, version: props.transfer.version, lines },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: `${given.value.map((row) => `${written(row.quantity, row.unit)} ${row.one.code}`).join(', ')} ${props.lost ? 'recorded as missing' : `arrived at ${props.transfer.to}`}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="lost ? `What of ${transfer.number} will not come` : `What of ${transfer.number} arrived at ${transfer.to}`"
    :act="act"
    :busy="busy"
    :disabled="given.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <p class="mb-3 text-soft">
      {{
        lost ? 'What is missing is corrected at its cost.' : 'Enter what arrived. A line left empty stays on the way.'
      }}
    </p>
    <div
      v-for="row in rows"
      :key="`${row.one.lineId} ${row.one.lotId} ${row.one.pieceId}`"
      class="grid grid-cols-1 md:grid-cols-[1fr_13rem_14rem] items-start gap-3 border-t border-line py-3"
    >
      <span
        ><b class="font-semibold">{{ row.one.code }}</b
        >{{ ' ' }}
        <StockLotLink
          :lot-id="row.one.lotId"
          :lot="row.one.lot"
          :piece-id="row.one.pieceId"
          :piece="row.one.piece"
        /><span class="block text-fine text-soft"
          >on the way {{ amount(row.one.quantity, 6) }} {{ row.one.symbol }}
          <UiButton small @click="row.quantity = asTyped(row.one.quantity)">all of it</UiButton></span
        ></span
      >
      <UiQuantityField
        v-model="row.quantity"
        v-model:unit="row.unit"
        :label="`${lost ? 'Missing' : 'Arrived'} of ${row.one.code}`"
        hide-label
        :item="null"
        :error="wrongOf(row, 'quantity')"
        quiet
      />
      <UiChoice
        v-if="!lost"
        v-model="row.binId"
        :label="`Into, for ${row.one.code}`"
        hide-label
        :hint="row.why || undefined"
        :options="bins.map((bin) => ({ value: bin.id, name: bin.name }))"
        :error="wrongOf(row, 'binId')"
      />
    </div>
  </UiDialog>
</template>
