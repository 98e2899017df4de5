<script setup lang="ts">
import { readStockQuantity, typedQuantity } from '~~/core/units/quantity'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'

const props = defineProps<{
  piece: { id: number; itemId: number; label: string; stockUnit: string; symbol: string; remaining: string }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const references = useReferences()
const session = useSession()
const notices = useNotices()
const { amount } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const item = ref<MeasuredItem | null>(null)
void fetchMeasured(props.piece.itemId).then((loaded) => {
  item.value = loaded
})
const { measure } = useMeasure(() => item.value)
const blank = () => ({ quantity: '', unit: props.piece.stockUnit, label: '', binId: null as number | null })
const parts = ref([blank()])
const given = computed(() => parts.value.filter((part) => part.quantity.trim() !== ''))
/** What remains of the piece after these cuts. */
const after = computed(() => {
  if (!measure.value) {
    return null
  }
  let cut = ZERO
  for (const part of given.value) {
    const read = readStockQuantity(
      typedQuantity(part.quantity),
      part.unit,
      measure.value,
      'recorded',
      session.company?.decimalSign,
    )
    if (!read.ok) {
      return null
    }
    cut = cut.add(read.value.quantity)
  }
  return {
    cut: toText(cut),
    rest: toText(ratio(props.piece.remaining).sub(cut)),
    none: ratio(props.piece.remaining).compare(cut) <= 0,
  }
})
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/stock/pieces/${props.piece.id}/split`, { method: 'POST', body: { key, parts: given.value } }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    postingId: done.postingId,
    text: `${done.labels.join(', ')} cut off ${props.piece.label}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`Cut lengths off ${piece.label}`"
    :act="after && given.length ? `Cut ${amount(after.cut, 6)} ${piece.symbol} off` : 'Cut it off'"
    :busy="busy"
    :disabled="given.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <p class="mb-3 text-soft">
      Each length becomes a piece of its own, in the lot and with the traits of this one, and points back to it.
    </p>
    <div
      v-for="(part, index) in parts"
      :key="index"
      class="mb-2 grid grid-cols-1 md:grid-cols-[13rem_1fr_14rem] items-start gap-3"
    >
      <UiQuantityField
        v-model="part.quantity"
        v-model:unit="part.unit"
        :label="`Length ${index + 1}`"
        :item="item"
        :error="fields[`parts.${index}.quantity`]"
      />
      <UiTextField v-model="part.label" label="Label, else the next" :error="fields[`parts.${index}.label`]" />
      <UiChoice
        v-model="part.binId"
        label="Into"
        empty="the same bin"
        :options="references.bins.filter((b) => !b.closedToReceiving).map((b) => ({ value: b.id, name: b.name }))"
        :error="fields[`parts.${index}.binId`]"
      />
    </div>
    <UiButton small @click="parts.push(blank())">Another length</UiButton>
    <p v-if="after && given.length" class="mt-4 flex items-center gap-3">
      <span class="w-40"><StockRemains :original="piece.remaining" :remains="after.none ? '0' : after.rest" /></span
      >{{ piece.label }}:
      <UiChange
        :before="amount(piece.remaining, 6)"
        :after="amount(after.rest, 6)"
        :unit="piece.symbol"
        :warn="after.none"
      />
    </p>
  </UiDialog>
</template>
