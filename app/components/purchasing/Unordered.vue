<script setup lang="ts">
import type { MeasuredItem } from '~/composables/ui/use-measure'

/** Goods came that nobody ordered: they are taken in against an order that is made from their packing list. */
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const references = useReferences()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const bins = useReceivingBins(() => references.sites.find((site) => !site.retired)?.id ?? null)

interface Row {
  itemId: number | null
  measured: (MeasuredItem & { readonly tracking?: string }) | null
  quantity: string
  unit: string
  price: string
  binId: number | null
  lot: string
  expiresOn: string
}
const blank = (): Row => ({
  itemId: null,
  measured: null,
  quantity: '',
  unit: '',
  price: '',
  binId: bins.value[0]?.id ?? null,
  lot: '',
  expiresOn: '',
})
const form = reactive({
  supplierId: null as number | null,
  packingList: '',
  effectiveOn: '',
  note: '',
  isHeld: true,
  rows: [blank()],
})
const draft = useDraft('goods in without an order', {
  read: () => ({ ...form, rows: form.rows.map((row) => ({ ...row, measured: null })) }),
  write: (state) => {
    Object.assign(form, state)
    form.rows.forEach((row) => void choose(row, row.itemId, row.unit))
  },
})
async function choose(row: Row, itemId: number | null, unit = ''): Promise<void> {
  row.itemId = itemId
  row.measured = itemId === null ? null : await fetchMeasured(itemId)
  row.unit = unit || (row.measured?.buyingUnit ?? '')
}
const given = computed(() => form.rows.filter((row) => row.itemId !== null))
/** Whether every fault stands beside a field that is shown here. */
const SHOWN = /^(supplierId|packingList|effectiveOn|note|lines\.\d+\.(itemId|quantity|price|binId|lot|expiresOn))$/
const isShown = computed(
  () => Object.keys(fields.value).length > 0 && Object.keys(fields.value).every((field) => SHOWN.test(field)),
)
const wrongOf = (row: Row, field: string): string | undefined =>
  fields.value[`lines.${given.value.indexOf(row)}.${field}`]

async function receive(): Promise<void> {
  const { supplierId, packingList, effectiveOn, note, isHeld } = form
  const lines = given.value.map(({ itemId, quantity, unit, price, binId, lot, expiresOn }) => ({
    itemId,
    quantity,
    unit,
    price: readNumber(price, session.company?.decimalSign),
    binId,
    lot,
    expiresOn: expiresOn || null,
  }))
  const done = await run((key) =>
    $fetch('/api/purchasing/unordered', {
      method: 'POST',
      body: { key, supplierId, packingList, effectiveOn, note, isHeld, lines },
    }),
  )
  if (!done) {
    return
  }
  draft.discard()
  const where = done.isHeld ? ' It waits on hold as not ordered.' : ''
  notices.say({
    kind: 'done',
    postingId: done.postingId ?? undefined,
    text: `${done.number}: ${receivedText(done, references.symbol)}${where}`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    title="Goods in without an order"
    :act="`Receive ${given.length} ${plural(given.length, 'line', 'lines')}`"
    :busy="busy"
    :disabled="given.length === 0 || form.supplierId === null"
    :problem="isShown ? '' : detail"
    @act="receive"
  >
    <UiDraft :since="draft.since.value" @anew="draft.beginAnew()" />
    <div class="mb-3 grid gap-3 md:grid-cols-3">
      <UiPartnerField v-model="form.supplierId" kind="supplier" label="From" :error="fields.supplierId" />
      <UiTextField v-model="form.packingList" label="Packing list number" :error="fields.packingList" />
      <UiDateField v-model="form.effectiveOn" label="Received on" placeholder="today" :error="fields.effectiveOn" />
    </div>
    <div v-for="(row, index) in form.rows" :key="index" class="border-t border-line py-3">
      <div class="grid grid-cols-1 gap-3 md:grid-cols-[1fr_11rem_7rem_11rem]">
        <UiItemField
          :model-value="row.itemId"
          :label="`Item, line ${index + 1}`"
          :error="wrongOf(row, 'itemId')"
          @update:model-value="choose(row, $event)"
        />
        <UiQuantityField
          v-if="row.measured"
          v-model="row.quantity"
          v-model:unit="row.unit"
          :label="`Received, line ${index + 1}`"
          :item="row.measured"
          :error="wrongOf(row, 'quantity')"
        />
        <UiTextField
          v-if="row.measured"
          v-model="row.price"
          right
          :label="`Price, line ${index + 1}`"
          placeholder="by terms"
          :error="wrongOf(row, 'price')"
        />
        <UiChoice
          v-if="row.measured"
          v-model="row.binId"
          :label="`Into, line ${index + 1}`"
          :options="bins.map((bin) => ({ value: bin.id, name: bin.name }))"
          :error="wrongOf(row, 'binId')"
        />
      </div>
      <div v-if="row.measured" class="mt-2 flex flex-wrap gap-3">
        <UiTextField
          v-model="row.lot"
          class="w-44"
          :label="`Lot, line ${index + 1}`"
          hint="where it is kept by lot"
          :error="wrongOf(row, 'lot')"
        />
        <UiDateField
          v-model="row.expiresOn"
          class="w-44"
          :label="`Expires on, line ${index + 1}`"
          :error="wrongOf(row, 'expiresOn')"
        />
      </div>
    </div>
    <UiButton small @click="form.rows.push(blank())">Add a line</UiButton>
    <div class="mt-4 grid gap-2">
      <UiTextField v-model="form.note" label="What is known of it" :error="fields.note" />
      <UiCheckField
        v-if="session.allows('buy')"
        v-model="form.isHeld"
        label="It waits on hold until somebody says that it is kept"
      />
      <p v-else class="text-soft">It waits on hold until somebody who buys says that it is kept.</p>
    </div>
  </UiDialog>
</template>
