<script setup lang="ts">
import { toMinor } from '~~/core/money'
import { ratio, toDecimal } from '~~/core/units/exact'
import type { ReadInvoice } from '~~/shared/purchasing/answers'
import type { Charge } from './Charges.vue'

interface Line {
  id: number
  itemId: number
  code: string
  name: string
  unit: string
  price: string
  stockUnit: string
  finestStep: string
  symbol: string
  relations: { unit: string; ofUnit: string; numerator: string; denominator: string }[]
}
/** `charges`: only what is asked for beside the goods, by their supplier or another. */
const props = defineProps<{
  kind: 'goods' | 'charges'
  order: {
    id: number
    number: string
    supplierId: number
    supplier: string
    currency: string | null
    charges: readonly { name: string; amount: string }[]
    invoices: readonly { cancelled: boolean; charges: readonly object[] }[]
    lines: readonly Line[]
    uninvoiced: readonly { lineId: number; quantity: string; amount: string }[]
  }
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const notices = useNotices()
const { money, amount, asTyped } = usePrint()
const { typedNumber } = useTypedNumber()
const { busy, detail, fields, run } = useAct()
const open = computed({ get: () => true, set: () => emit('close') })
const form = reactive({ number: '', invoicedOn: session.today, supplierId: props.order.supplierId as number | null })
const references = useReferences()
/** Goods are asked for in the order's currency, charges in that of whoever asks. */
const currency = computed(() =>
  form.supplierId === props.order.supplierId ? props.order.currency : references.currencyOf(form.supplierId),
)
/** What the order says of charges stands there already, unless an invoice brought it before. */
const isCharged = props.order.invoices.some((invoice) => !invoice.cancelled && invoice.charges.length > 0)
const charges = ref<Charge[]>(
  props.kind === 'goods' && !isCharged
    ? props.order.charges.map(({ name, amount: ordered }) => ({ name, amount: ordered, by: 'value' }))
    : [],
)
const moveIds = ref<number[]>([])
const givenCharges = computed(() => charges.value.filter((charge) => charge.amount.trim() !== ''))
const rows = reactive(
  (props.kind === 'goods' ? props.order.uninvoiced : []).map((left) => {
    const line = props.order.lines.find((line) => line.id === left.lineId)!
    return {
      line,
      left,
      quantity: asTyped(left.quantity),
      unit: line.stockUnit,
      amount: '',
      measured: {
        id: line.itemId,
        stockUnit: line.stockUnit,
        finestStep: line.finestStep,
        relations: line.relations,
        buyingUnit: line.unit,
      },
    }
  }),
)
const given = computed(() => rows.filter((row) => row.amount.trim() !== ''))
const wrongOf = (row: (typeof rows)[number], field: string): string | undefined => {
  const index = given.value.indexOf(row)
  return index < 0 ? undefined : fields.value[`lines.${index}.${field}`]
}
/**
 * What the order says of this quantity, in the company's currency, and how much more or less the invoice is; only where
 * both are in that.
 */
const difference = (row: (typeof rows)[number]): string | null => {
  const quantity = typedNumber(row.quantity)
  const invoiced = isPlainDecimal(row.amount) ? ratio(row.amount) : null
  if (!quantity || !invoiced || props.order.currency || row.unit !== row.line.stockUnit) {
    return null
  }
  const share = ratio(row.left.amount).mul(quantity).div(ratio(row.left.quantity))
  return toDecimal(toMinor(invoiced).sub(share), 0)
}
const invoice = computed(() => ({
  invoicedOn: form.invoicedOn,
  supplierId: form.supplierId,
  lines: given.value.map((row) => ({
    lineId: row.line.id,
    quantity: row.quantity,
    unit: row.unit,
    amount: row.amount,
  })),
}))
const total = computed(() =>
  [...given.value, ...givenCharges.value].reduce(
    (sum, { amount }) => (isPlainDecimal(amount.replace(/^-/, '')) ? sum.add(toMinor(ratio(amount))) : sum),
    ratio(0),
  ),
)
/** What does not fit of an invoice that was read from a file. */
const concerns = ref<readonly string[]>([])
const reading = useAct()
async function read(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? []
  if (!file) {
    return
  }
  const text = await file.text()
  const found = await reading.run(() =>
    $fetch<ReadInvoice>(`/api/purchasing/orders/${props.order.id}/invoice-file`, { method: 'POST', body: { text } }),
  )
  if (!found) {
    return
  }
  form.number = found.number
  form.invoicedOn = found.invoicedOn ?? form.invoicedOn
  for (const row of rows) {
    const asked = found.lines.find(({ lineId }) => lineId === row.line.id)
    row.quantity = asTyped(asked?.quantity ?? row.left.quantity)
    row.unit = asked?.unit ?? row.line.stockUnit
    row.amount = asked?.amount ?? ''
  }
  charges.value = found.charges.map((charge) => ({ ...charge, by: 'value' }))
  const early = found.lines.filter(({ lineId }) => !rows.some((row) => row.line.id === lineId))
  const names = early.map(({ lineId }) => props.order.lines.find(({ id }) => id === lineId)?.code ?? '?')
  concerns.value = [
    ...found.concerns,
    ...names.map((code) => `${code} is asked for, and nothing of it waits for an invoice.`),
  ]
}
async function save(): Promise<void> {
  const done = await run((key) =>
    $fetch(`/api/purchasing/orders/${props.order.id}/invoice`, {
      method: 'POST',
      body: {
        key,
        number: form.number,
        ...invoice.value,
        charges: givenCharges.value,
        moveIds: givenCharges.value.length > 0 ? moveIds.value : [],
      },
    }),
  )
  if (!done) {
    return
  }
  const passed = done.revalued.filter(
    (entry) => entry.account !== 'accounts payable' && entry.account !== 'goods received not invoiced',
  )
  notices.say({
    kind: 'done',
    text: `Invoice ${form.number} is entered.${passed.length ? ` It changed ${passed.map((entry) => `${entry.account} by ${money(entry.amount)}`).join(', ')}.` : ' It costs what the order said.'}`,
  })
  emit('done')
}
</script>

<template>
  <UiDialog
    v-model="open"
    records
    wide
    :title="
      kind === 'goods' ? `Invoice for ${order.number}, ${order.supplier}` : `Charges for the goods of ${order.number}`
    "
    act="Enter the invoice"
    :busy="busy"
    :disabled="given.length + givenCharges.length === 0 || !form.number.trim()"
    :problem="Object.keys(fields).length ? '' : detail"
    @act="save"
  >
    <div class="mb-3 flex flex-wrap items-start gap-3">
      <UiPartnerField
        v-if="kind === 'charges'"
        v-model="form.supplierId"
        class="w-64"
        kind="supplier"
        label="Invoiced by"
        :error="fields.supplierId"
      /><UiTextField v-model="form.number" class="w-56" label="Invoice number" :error="fields.number" /><UiDateField
        v-model="form.invoicedOn"
        class="w-44"
        label="Its date"
        :error="fields.invoicedOn ?? fields.effectiveOn"
      />
      <label
        v-if="kind === 'goods'"
        class="inline-flex h-9 cursor-pointer items-center rounded-block border border-line bg-sheet px-3.5 font-medium focus-within:outline-2 focus-within:outline-ink hover:bg-wash sm:mt-6"
        >Read it from a file (UBL)<input
          type="file"
          class="sr-only"
          accept=".xml,application/xml,text/xml"
          @change="read"
      /></label>
    </div>
    <UiProblem :text="reading.detail.value" class="mb-3" />
    <ul v-if="concerns.length" class="mb-3 text-brick" aria-label="What does not fit">
      <li v-for="sentence in concerns" :key="sentence">{{ sentence }}</li>
    </ul>
    <p v-if="kind === 'goods'" class="mb-3 text-soft">
      What was received and not invoiced yet. A line without an amount stays so.
    </p>
    <div
      v-for="row in rows"
      :key="row.line.id"
      class="grid grid-cols-1 md:grid-cols-[1fr_13rem_10rem] items-start gap-3 border-t border-line py-3"
    >
      <span
        ><b class="font-semibold">{{ row.line.code }}</b> <span class="text-soft">{{ row.line.name }}</span><span
          class="block text-fine text-soft"
          >{{ amount(row.left.quantity, 6) }} {{ row.line.symbol }} not invoiced; by the order
          {{ money(row.left.amount) }}</span
        ></span
      >
      <UiQuantityField
        v-model="row.quantity"
        v-model:unit="row.unit"
        :label="`Invoiced of ${row.line.code}`"
        :item="row.measured"
        :error="wrongOf(row, 'quantity')"
      />
      <UiMoneyField
        v-model="row.amount"
        :currency="order.currency"
        :label="`Amount for ${row.line.code}${order.currency ? `, ${order.currency}` : ''}`"
        :hint="
          difference(row) && row.amount
            ? difference(row) === '0'
              ? 'as ordered'
              : `${difference(row)!.startsWith('-') ? '' : '+'}${money(difference(row)!)} against the order`
            : undefined
        "
        :error="wrongOf(row, 'amount')"
      />
    </div>
    <PurchasingCharges
      v-model="charges"
      v-model:move-ids="moveIds"
      :order-id="order.id"
      :currency="currency"
      :invoice="invoice"
      :fields="fields"
      :is-alone="kind === 'charges'"
    />
    <p
      v-if="total.compare(0) !== 0"
      class="border-t border-line pt-2 text-right font-semibold"
      data-test="invoice-total"
    >
      Invoice total {{ money(toDecimal(total, 0), currency) }}
    </p>
    <p class="mt-2 text-soft">
      Where the amount differs from the order, what is in stock, what was built from it and what was sold meanwhile are
      re-valued, each on its own day.
    </p>
  </UiDialog>
</template>
