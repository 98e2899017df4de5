<script setup lang="ts">
import type { ItemName } from '~~/shared/catalogue/answers'
import { buyingPrice, sellingPrice, type PriceTier, type SellingRule } from '~~/core/pricing'
import { convert, type UnitGraph } from '~~/core/units/graph'
import { ONE, ratio, toDecimal, type Ratio } from '~~/core/units/exact'
import { readStockQuantity, typedQuantity, type ItemMeasure } from '~~/core/units/quantity'
import { measureOf } from '~~/shared/catalogue/measure'
import type { MeasuredItem } from '~/composables/ui/use-measure'

interface Terms {
  supplierId: number
  unit: string
  price: string
  tiers: PriceTier[]
}
export interface PricedItem extends MeasuredItem {
  readonly price?: string | null
  readonly terms?: readonly Terms[]
  readonly prices?: readonly SellingRule[]
}
export interface OrderLine {
  id: number | null
  itemId: number | null
  shown: ItemName | null
  measured: PricedItem | null
  quantity: string
  unit: string
  price: string
  /** In per cent, as it is typed, taken off the price; only what is bought has one here. */
  discount?: string
  /** Its own day, where it has one. */
  dueOn?: string
  /** What the price rules last said; a price that differs was typed. */ said?: string
  from?: string
}
const props = defineProps<{
  fields: Record<string, string>
  disabled?: boolean
  prices: 'selling' | 'buying'
  partyId?: number | null
  day?: string
  /** Where lines can have a due date of their own: that of those which have none. */
  dueOn?: string
}>()
const lines = defineModel<OrderLine[]>({ required: true })
const references = useReferences()
const session = useSession()

async function choose(line: OrderLine, chosen: { id: number; unit?: string | null }): Promise<void> {
  const before = line.price
  const item = (await $fetch(`/api/catalogue/items/${chosen.id}`)) as unknown as PricedItem & ItemName
  if (line.itemId !== null && line.itemId !== chosen.id) {
    return
  }
  // Whoever types faster than the answer comes has typed the price of this item.
  const isTyped = line.price !== before
  line.measured = item
  line.shown = { id: item.id, code: item.code, name: item.name }
  line.unit = chosen.unit ?? (props.prices === 'buying' ? (termsOf(item)?.unit ?? item.buyingUnit!) : item.sellingUnit!)
  line.said = undefined
  suggest(line, isTyped)
}
// A line that came with its item, from where something was found missing.
onMounted(() => {
  for (const line of lines.value) {
    if (line.itemId !== null && !line.measured && line.id === null) {
      void choose(line, { id: line.itemId })
    }
  }
})
const termsOf = (item: PricedItem): Terms | undefined =>
  item.terms?.find((terms) => terms.supplierId === props.partyId) ?? item.terms?.[0]
const WHENCE = {
  customer: 'this customer’s own price',
  'price list': 'by the price list',
  quantity: 'by quantity',
  item: 'the item’s price',
} as const

interface Suggestion {
  readonly price: string
  readonly from: string
}
interface Wanted {
  readonly item: PricedItem
  readonly graph: UnitGraph
  readonly unit: string
  readonly quantity: Ratio
}
function sellingSuggestion({ item, graph, unit, quantity }: Wanted): Suggestion {
  const customer = references.customers.find((row) => row.id === props.partyId)
  const found = sellingPrice(graph, { price: item.price ?? null, unit: item.sellingUnit! }, item.prices ?? [], {
    unit,
    quantity,
    day: props.day || session.today,
    customerId: props.partyId ?? null,
    priceListId: customer?.priceListId ?? null,
  })
  return found ? { price: exact(found.price), from: WHENCE[found.from] } : { price: '0', from: '' }
}
function buyingSuggestion({ item, graph, unit, quantity }: Wanted): Suggestion {
  const terms = termsOf(item)
  const inTerms = terms && convert(graph, ONE, unit, terms.unit)
  if (!terms || !inTerms?.ok) {
    return { price: '0', from: '' }
  }
  const price = buyingPrice(terms.price, terms.tiers, quantity.mul(inTerms.value), props.day || session.today)
  return {
    price: exact(ratio(price).mul(inTerms.value)),
    from: price === terms.price ? 'by their terms' : 'by a price tier',
  }
}
/** What a line orders; one of its unit as long as its quantity cannot be read. */
function wantedOf(line: OrderLine, item: PricedItem, measure: ItemMeasure): Wanted {
  const typed = typedQuantity(line.quantity || '1')
  const read = readStockQuantity(typed, line.unit, measure, 'recorded', session.company?.decimalSign)
  return {
    item,
    graph: measure.graph,
    unit: read.ok ? read.value.unit : line.unit,
    quantity: read.ok ? ratio(read.value.entered) : ONE,
  }
}
/** Fills in what the price rules say, unless a price was typed or agreed; such a one only learns what they say. */
function suggest(line: OrderLine, isTypedMeanwhile = false): void {
  const item = line.measured
  const built = item && measureOf(references.units, item)
  const isTyped = line.said !== undefined && line.price !== line.said
  if (!item || !built?.ok || isTyped) {
    return
  }
  const wanted = wantedOf(line, item, built.value)
  const { price, from } = props.prices === 'selling' ? sellingSuggestion(wanted) : buyingSuggestion(wanted)
  // The price of a line that was ordered already is agreed, whatever the rules say of another quantity.
  const isAgreed = line.id !== null && line.said === undefined
  line.said = price
  line.from = from
  if (!isTypedMeanwhile && !isAgreed) {
    line.price = price
  }
}
/** At most six decimals, without needless noughts. */
function exact(price: ReturnType<typeof ratio>): string {
  return toDecimal(price, 6).replace(/(\.\d\d\d*?)0+$/, '$1')
}
watch(
  () => [props.partyId, props.day],
  () => {
    lines.value.forEach((line) => suggest(line))
  },
)
watch(
  () => lines.value.map((line) => `${line.quantity} ${line.unit}`),
  () => {
    lines.value.forEach((line) => suggest(line))
  },
)
function add(): void {
  lines.value = [
    ...lines.value,
    { id: null, itemId: null, shown: null, measured: null, quantity: '', unit: 'piece', price: '0' },
  ]
}
</script>

<template>
  <div>
    <div
      v-for="(line, index) in lines"
      :key="index"
      class="mb-2 grid grid-cols-1 items-start gap-2"
      :class="
        dueOn === undefined ? 'md:grid-cols-[1fr_14rem_10rem_auto]' : 'md:grid-cols-[1fr_12rem_9rem_5.5rem_9.5rem_auto]'
      "
    >
      <UiItemField
        v-model="line.itemId"
        :shown="line.shown"
        label="Item"
        :hide-label="index > 0"
        :error="fields[`lines.${index}.itemId`]"
        @chosen="choose(line, $event)"
      />
      <UiQuantityField
        v-model="line.quantity"
        v-model:unit="line.unit"
        label="Quantity"
        :hide-label="index > 0"
        :item="line.measured"
        :error="fields[`lines.${index}.quantity`]"
      />
      <UiMoneyField
        v-model="line.price"
        label="Unit price"
        :currency="prices === 'buying' ? references.currencyOf(partyId ?? null) : undefined"
        :hide-label="index > 0"
        :error="fields[`lines.${index}.price`]"
        :hint="
          line.said === undefined ? '' : line.price === line.said ? line.from : `typed; the rules say ${line.said}`
        "
      />
      <UiTextField
        v-if="dueOn !== undefined"
        :model-value="line.discount ?? ''"
        right
        label="Discount, %"
        :hide-label="index > 0"
        :error="fields[`lines.${index}.discount`]"
        @update:model-value="line.discount = $event"
      />
      <UiDateField
        v-if="dueOn !== undefined"
        :model-value="line.dueOn ?? dueOn"
        label="Due on"
        :hide-label="index > 0"
        :error="fields[`lines.${index}.dueOn`]"
        @update:model-value="line.dueOn = $event"
      />
      <UiButton
        v-if="!disabled"
        :class="index === 0 && 'beside-field'"
        aria-label="Remove this line"
        @click="lines = lines.filter((_, entry) => entry !== index)"
        >×</UiButton
      >
    </div>
    <p v-if="fields.lines" class="mb-2 text-fine text-brick" role="alert">{{ fields.lines }}</p>
    <UiButton v-if="!disabled" small @click="add">Add a line</UiButton>
  </div>
</template>
