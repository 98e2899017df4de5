<script setup lang="ts">
import { toMinor } from '~~/core/money'
import { ratio, toDecimal, toText } from '~~/core/units/exact'
import { readStockQuantity, typedQuantity } from '~~/core/units/quantity'
import { REASONS } from '~~/shared/stock/words'
import { STOCK_STATUSES } from '~~/core/stock'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  start: { itemId: number | null; binId: number | null; lot: string; piece?: string; status?: string }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const { written } = useWritten()
const notices = useNotices()
const session = useSession()
const { amount, money } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })

const form = reactive({
  itemId: props.start.itemId,
  binId: props.start.binId ?? references.bins[0]?.id ?? null,
  lot: props.start.lot,
  piece: props.start.piece ?? '',
  status: props.start.status ?? 'available',
  direction: 'less' as 'more' | 'less',
  quantity: '',
  unit: 'piece',
  reason: 'miscount' as string,
  unitCost: '',
  expiresOn: '',
  effectiveOn: '',
  note: '',
})
const traits = ref<Record<string, string>>({})
/** What one stock unit is worth on average, in minor units. */
const unitCost = ref<string | null>(null)
const item = ref<(MeasuredItem & { code: string; name: string; tracking: string; groupId: number }) | null>(null)
const shown = computed(() => item.value && { id: item.value.id, code: item.value.code, name: item.value.name })
const places = ref<{ bin: string; lot: string | null; piece: string | null; status: string; onHand: string }[]>([])
async function choose(id: number): Promise<void> {
  item.value = await $fetch(`/api/catalogue/items/${id}`)
  form.unit = item.value!.stockUnit
  const sheet = await $fetch(`/api/catalogue/items/${id}/sheet`)
  places.value = sheet.places
  unitCost.value = sheet.unitCost
}
if (props.start.itemId !== null) {
  void choose(props.start.itemId)
}
const { measure } = useMeasure(() => item.value)

/** What lies in the chosen bin and lot, and what will after. */
const change = computed(() => {
  const bin = references.bins.find((b) => b.id === form.binId)?.name
  const before = places.value
    .filter(
      (p) =>
        p.bin === bin &&
        p.status === form.status &&
        (item.value?.tracking !== 'lot' || p.lot === form.lot) &&
        (item.value?.tracking !== 'piece' || p.piece === form.piece),
    )
    .reduce((sum, p) => sum.add(ratio(p.onHand)), ratio(0))
  const read =
    measure.value && form.quantity.trim() !== ''
      ? readStockQuantity(
          typedQuantity(form.quantity),
          form.unit,
          measure.value,
          'recorded',
          session.company?.decimalSign,
        )
      : null
  if (!read?.ok) {
    return null
  }
  const after = form.direction === 'more' ? before.add(read.value.quantity) : before.sub(read.value.quantity)
  let cost
  if (form.direction === 'more' && /^\d+(\.\d+)?$/.test(form.unitCost)) {
    cost = toMinor(ratio(form.unitCost)).mul(ratio(read.value.entered))
  } else if (unitCost.value === null) {
    cost = null
  } else {
    cost = ratio(unitCost.value).mul(read.value.quantity)
  }
  return {
    before: toText(before),
    after: toText(after),
    below: after.compare(0) < 0,
    worth: cost === null ? null : toDecimal(cost, 0),
  }
})
const act = computed(() => `Record ${written(form.quantity, form.unit)} ${form.direction}`)
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch('/api/stock/corrections', {
      method: 'POST',
      body: { key, ...form, traits: traits.value, expiresOn: form.expiresOn || null },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: `${item.value?.code}: ${written(form.quantity, form.unit)} ${form.direction} recorded, ${form.reason}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    title="Stock correction"
    :act="act"
    :busy="busy"
    :disabled="!form.quantity.trim()"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="grid grid-cols-1 sm:grid-cols-2 gap-3">
      <UiItemField
        v-model="form.itemId"
        class="sm:col-span-2"
        label="Item"
        :shown="shown"
        :error="fields.itemId"
        @chosen="choose($event.id)"
      />
      <UiChoice
        v-model="form.binId"
        label="Bin"
        :options="references.bins.map((b) => ({ value: b.id, name: b.name }))"
        :error="fields.binId"
      />
      <UiTextField
        v-if="item && item.tracking !== 'none'"
        v-model="form.lot"
        :label="item.tracking === 'piece' ? 'Lot, if it has one' : 'Lot'"
        :error="fields.lot"
      />
      <UiTextField
        v-if="item?.tracking === 'piece'"
        v-model="form.piece"
        label="Piece"
        :hint="form.direction === 'more' ? 'empty gives it the next label' : undefined"
        :error="fields.piece"
      />
      <UiChoice
        v-model="form.status"
        label="Status"
        :options="STOCK_STATUSES.map((s) => ({ value: s, name: s }))"
        :error="fields.status"
      />
      <UiChoice
        v-model="form.direction"
        label="More or less"
        :options="[
          { value: 'less', name: 'less is there' },
          { value: 'more', name: 'more is there' },
        ]"
        :error="fields.direction"
      />
      <UiQuantityField
        v-model="form.quantity"
        v-model:unit="form.unit"
        label="By how much"
        :item="item"
        :error="fields.quantity"
      />
      <UiChoice
        v-model="form.reason"
        label="Reason"
        :options="REASONS.map((r) => ({ value: r, name: r }))"
        :error="fields.reason"
      />
      <UiMoneyField
        v-if="form.direction === 'more'"
        v-model="form.unitCost"
        label="Cost of one, else the average"
        :error="fields.unitCost"
      />
      <UiDateField
        v-if="form.direction === 'more' && item && item.tracking !== 'none'"
        v-model="form.expiresOn"
        label="Expires on"
        :error="fields.expiresOn"
      />
      <UiDateField v-model="form.effectiveOn" label="Date" placeholder="today" :error="fields.effectiveOn" />
      <UiTextField v-model="form.note" label="Note" :error="fields.note" />
      <StockTraits
        v-if="form.direction === 'more' && item && item.tracking !== 'none'"
        v-model="traits"
        class="sm:col-span-2"
        :group-id="item.groupId"
        :fields="fields"
      />
    </div>
    <p v-if="change" class="mt-4 flex items-center gap-2">
      <GoodsBlock :state="change.below ? 'missing' : 'on hand'" class="h-4 w-8" />In this bin, {{ form.status }}:
      <UiChange
        :before="amount(change.before, 6)"
        :after="amount(change.after, 6)"
        :unit="references.symbol(item?.stockUnit ?? '')"
        :warn="change.below"
      /><span v-if="change.worth" class="text-soft">, worth about {{ money(change.worth) }}</span>
    </p>
  </UiDialog>
</template>
