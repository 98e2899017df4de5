<script setup lang="ts">
import type { TransferLineRow } from '~~/shared/stock/answers'
import { ratio, toText } from '~~/core/units/exact'
import type { MeasuredItem } from '~/composables/ui/use-measure'
const props = defineProps<{
  transfer: {
    id: number
    number: string
    from: string
    fromSiteId: number
    version: number
    lines: readonly TransferLineRow[]
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const { amount, asTyped } = usePrint()
const { written } = useWritten()
const notices = useNotices()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
interface Lying {
  key: string
  binId: number
  bin: string
  lot: string
  piece: string
  summary: string
}
const rows = reactive(
  props.transfer.lines
    .filter((line) => ratio(line.quantity).compare(ratio(line.shipped)) > 0)
    .map((line) => ({
      line,
      open: toText(ratio(line.quantity).sub(ratio(line.shipped))),
      quantity: '',
      unit: line.stockUnit,
      from: '',
      measured: null as MeasuredItem | null,
      lies: [] as Lying[],
    })),
)
onMounted(() =>
  Promise.all(
    rows.map(async (row) => {
      row.measured = await fetchMeasured(row.line.itemId)
      const { rows: found } = await $fetch('/api/stock/balances', {
        query: {
          item: row.line.itemId,
          site: props.transfer.fromSiteId,
          status: 'available',
          size: 200,
          sort: 'expiresOn',
        },
      })
      row.lies = found.map((b) => ({
        key: String(b.id),
        binId: b.binId,
        bin: b.bin,
        lot: b.lot ?? '',
        piece: b.piece ?? '',
        summary: `${[b.bin, b.piece, b.lot].filter(Boolean).join(', ')}: ${amount(b.onHand, 6)} ${b.symbol}`,
      }))
    }),
  ),
)
const given = computed(() => rows.filter((row) => row.quantity.trim() !== ''))
const wrongOf = (row: (typeof rows)[number], field: string): string | undefined => {
  const index = given.value.indexOf(row)
  return index < 0 ? undefined : fields.value[`lines.${index}.${field}`]
}
const act = computed(() =>
  given.value.length === 1
    ? `Ship ${written(given.value[0]!.quantity, given.value[0]!.unit)}`
    : `Ship ${given.value.length} lines`,
)
async function save(): Promise<void> {
  const lines = given.value.map((row) => {
    const lies = row.lies.find((location) => location.key === row.from)
    return {
      lineId: row.line.id,
      quantity: row.quantity,
      unit: row.unit,
      binId: lies?.binId ?? null,
      lot: lies?.lot ?? '',
      piece: lies?.piece ?? '',
    }
  })
  const done = await run((key) =>
    $fetch(`/api/stock/transfers/${props.transfer.id}/ship`, {
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
    text: `${given.value.map((row) => `${written(row.quantity, row.unit)} ${row.line.code}`).join(', ')} left ${props.transfer.from}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="`What leaves ${transfer.from} with ${transfer.number}`"
    :act="act"
    :busy="busy"
    :disabled="given.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <p class="mb-3 text-soft">Enter what leaves. A line left empty stays here.</p>
    <div
      v-for="row in rows"
      :key="row.line.id"
      class="grid grid-cols-1 md:grid-cols-[1fr_13rem_18rem] items-start gap-3 border-t border-line py-3"
    >
      <span
        ><b class="font-semibold">{{ row.line.code }}</b> <span class="text-soft">{{ row.line.name }}</span><span
          class="block text-fine text-soft"
          >still to leave {{ amount(row.open, 6) }} {{ row.line.symbol }}, free here {{ amount(row.line.free, 6) }}
          {{ row.line.symbol }}
          <UiButton
            small
            @click="
              () => {
                row.quantity = asTyped(row.open)
                row.unit = row.line.stockUnit
              }
            "
            >all of it</UiButton
          ></span
        ></span
      >
      <UiQuantityField
        v-model="row.quantity"
        v-model:unit="row.unit"
        :label="`Leaves of ${row.line.code}`"
        hide-label
        :item="row.measured"
        :error="wrongOf(row, 'quantity')"
      />
      <UiChoice
        v-model="row.from"
        :label="`From, for ${row.line.code}`"
        hide-label
        :options="[
          { value: '', name: 'by the order of picking' },
          ...row.lies.map((l) => ({ value: l.key, name: l.summary })),
        ]"
        :error="wrongOf(row, 'binId') ?? wrongOf(row, 'piece')"
      />
    </div>
  </UiDialog>
</template>
