<script setup lang="ts">
import { ratio, toText } from '~~/core/units/exact'

interface Line {
  id: number
  itemId: number
  code: string
  name: string
  symbol: string
  quantity: string
  shipped: string
  allocated: string
}
const props = defineProps<{ order: { id: number; number: string; version: number; lines: readonly Line[] } }>()
const emit = defineEmits<{ done: []; close: [] }>()
const notices = useNotices()
const { amount, day } = usePrint()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
interface Lying {
  balanceId: number
  summary: string
  traits: string
  expiresOn: string | null
  free: string
  closed: boolean
  quantity: string
}
const lines = props.order.lines
  .map((line) => ({ line, left: ratio(line.quantity).sub(ratio(line.shipped)).sub(ratio(line.allocated)) }))
  .filter((line) => line.left.compare(0) > 0)
const balances = ref<Record<number, Lying[]>>({})
onMounted(() =>
  Promise.all(
    lines.map(async ({ line }) => {
      const { rows } = await $fetch('/api/stock/balances', {
        query: { item: line.itemId, status: 'available', sort: 'expiresOn', size: 200 },
      })
      balances.value[line.id] = rows
        .map((b) => ({
          balanceId: Number(b.id),
          summary: [b.bin, b.piece, b.lot].filter(Boolean).join(', '),
          traits: Object.entries(b.traits)
            .map(([n, v]) => `${n} ${v}`)
            .join(', '),
          expiresOn: b.expiresOn,
          free: toText(ratio(b.onHand).sub(ratio(b.allocated))),
          closed: b.closedToPicking,
          quantity: '',
        }))
        .filter((b) => b.free !== '0')
    }),
  ),
)
const picks = computed(() =>
  lines.flatMap(({ line }) =>
    (balances.value[line.id] ?? [])
      .filter((entry) => entry.quantity.trim() !== '')
      .map((entry) => ({ lineId: line.id, balanceId: entry.balanceId, quantity: entry.quantity.trim() })),
  ),
)
const wrongOf = (lineId: number, balanceId: number): string | undefined => {
  const index = picks.value.findIndex((p) => p.lineId === lineId && p.balanceId === balanceId)
  return index < 0 ? undefined : fields.value[`picks.${index}.quantity`]
}
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/dispatch/${props.order.id}/allocate`, {
      method: 'POST',
      body: { key, version: props.order.version, picks: picks.value },
    }),
  )
  if (!done) {
    return
  }
  notices.say({
    kind: 'done',
    text: `Allocated ${done.lines.map((l) => `${l.quantity} ${l.symbol} ${l.code}`).join(', ')}.`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    wide
    :title="`Choose what ${order.number} gets`"
    :act="`Allocate ${picks.length} ${plural(picks.length, 'pick', 'picks')}`"
    :busy="busy"
    :disabled="picks.length === 0"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <section v-for="{ line, left } in lines" :key="line.id" class="border-t border-line py-3 first:border-0">
      <p class="mb-2 flex items-baseline justify-between">
        <span
          ><b class="font-semibold">{{ line.code }}</b> <span class="text-soft">{{ line.name }}</span></span
        ><span class="text-soft">still wants <UiQty strong :of="toText(left)" :unit="line.symbol" /></span>
      </p>
      <p v-if="balances[line.id]?.length === 0" class="text-soft">Nothing of it is free.</p>
      <div
        v-for="balance in balances[line.id]"
        :key="balance.balanceId"
        class="grid grid-cols-1 md:grid-cols-[1fr_9rem_9rem] items-center gap-3 py-1"
      >
        <span
          >{{ balance.summary
          }}<span v-if="balance.traits || balance.expiresOn" class="block text-fine text-soft"
            >{{ balance.traits }}<template v-if="balance.expiresOn"> until {{ day(balance.expiresOn) }}</template></span
          ></span
        >
        <span class="text-right text-soft">{{ amount(balance.free, 6) }} {{ line.symbol }} free</span>
        <span
          ><input
            v-model="balance.quantity"
            inputmode="decimal"
            :aria-label="`Allocate of ${line.code} from ${balance.summary}`"
            :disabled="balance.closed"
            class="h-9 w-full rounded-block border bg-sheet px-2.5 text-right disabled:bg-wash"
            :class="wrongOf(line.id, balance.balanceId) ? 'border-brick' : 'border-line'"
          /><span v-if="wrongOf(line.id, balance.balanceId)" role="alert" class="text-fine text-brick">{{
            wrongOf(line.id, balance.balanceId)
          }}</span></span
        >
      </div>
    </section>
  </UiDialog>
</template>
