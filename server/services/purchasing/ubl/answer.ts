import { isIsoDate } from '~~/core/calendar/days'
import { ONE, ratio, toDecimal, toText, type Ratio } from '~~/core/units/exact'
import { convert } from '~~/core/units/graph'
import { db } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { SupplierAnswer } from '~~/shared/purchasing/answers'
import { loadMeasuredItems, type MeasuredItem } from '../../catalogue/measured-items'
import { loadPurchase } from '../load-purchase'
import { loadUnitCodes } from './unit-codes'
import { readUbl, type Read } from './xml'

/** Decimals that a price has. */
const PRICE_DECIMALS = 6

type Purchase = Awaited<ReturnType<typeof loadPurchase>>

/**
 * Reads what a supplier answers to an order, a UBL 2.1 OrderResponse, as what could be confirmed: nothing is recorded.
 * Lines are known by the number that they have on our order; a line that says nothing of a field leaves it as ordered.
 *
 * Errors: `invalid-input` for what is no such document, or answers another order.
 */
export async function readAnswer(id: number, text: string): Promise<SupplierAnswer> {
  const order = await loadPurchase(id)
  const read = readUbl('OrderResponse', text)
  const answers = read.all('OrderReference', 'ID').map((entry) => entry.text())
  if (!answers.includes(order.number)) {
    const detail = `It answers ${answers.join(', ') || 'no order'}, not ${order.number}.`
    throw new Refusal('invalid-input', detail, { text: detail })
  }
  const items = await loadMeasuredItems(
    db,
    order.lines.map((line) => line.itemId),
  )
  const units = await loadUnitCodes()
  const unknown: string[] = []
  const lines = read.all('OrderLine').flatMap((entry) => {
    const number = entry.text('OrderLineReference', 'LineID') || entry.text('LineItem', 'ID')
    const line = order.lines.find((known) => String(known.line) === number)
    if (!line) {
      unknown.push(`Line ${number || '?'}: ${entry.text('LineItem', 'Item', 'Name') || 'without a name'}`)
      return []
    }
    return [answered(line, entry, items.get(line.itemId)!, units)]
  })
  return { reference: read.text('SalesOrderID') || read.text('ID'), lines, unknown }
}

function answered(
  line: Purchase['lines'][number],
  entry: Read,
  item: MeasuredItem,
  units: ReadonlyMap<string, string>,
): SupplierAnswer['lines'][number] {
  const promised = entry.text('LineItem', 'Delivery', 'PromisedDeliveryPeriod', 'EndDate')
  return {
    lineId: line.id,
    quantity: quantityIn(line, entry, item, units) ?? line.entered,
    price: priceOfOne(line, entry, item, units) ?? line.price,
    dueOn: isIsoDate(promised) ? promised : line.dueOn,
  }
}

/** The quantity in the unit of our line; null where it is not given, or in a unit that cannot be turned into that. */
function quantityIn(
  { unit }: { readonly unit: string },
  entry: Read,
  item: MeasuredItem,
  units: ReadonlyMap<string, string>,
): string | null {
  const said = decimalOf(entry.text('LineItem', 'Quantity'))
  if (!said) {
    return null
  }
  const code = units.get(entry.attribute('unitCode', 'LineItem', 'Quantity')) ?? unit
  const converted = convert(item.measure.graph, said, code, unit)
  return converted.ok ? toText(converted.value) : null
}

/** The price of one of our unit, where it is given for several, or for another unit; null where none is given. */
function priceOfOne(
  { unit }: { readonly unit: string },
  entry: Read,
  item: MeasuredItem,
  units: ReadonlyMap<string, string>,
): string | null {
  const price = decimalOf(entry.text('LineItem', 'Price', 'PriceAmount'))
  const base = decimalOf(entry.text('LineItem', 'Price', 'BaseQuantity')) ?? ONE
  const code = units.get(entry.attribute('unitCode', 'LineItem', 'Price', 'BaseQuantity')) ?? unit
  const one = convert(item.measure.graph, ONE, unit, code)
  if (!price || base.equals(0) || !one.ok) {
    return null
  }
  const decimal = toDecimal(price.div(base).mul(one.value), PRICE_DECIMALS)
  return decimal.replace(/0+$/, '').replace(/\.$/, '')
}

/** A plain decimal, as xsd:decimal writes it without a sign. */
const decimalOf = (text: string): Ratio | null => (/^\d{1,15}(\.\d{1,12})?$/.test(text) ? ratio(text) : null)
