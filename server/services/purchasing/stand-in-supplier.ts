import { toDay, toIso } from '~~/core/calendar/days'
import { lineValue } from '~~/core/costing'
import { majorText } from '~~/core/money'
import { ONE, parts, ratio, toDecimal, ZERO, type Ratio } from '~~/core/units/exact'
import { Refusal } from '~~/server/utils/refusal'
import type { StandInSupplier } from '~~/shared/purchasing/stand-in'
import { loadPurchase } from './load-purchase'
import { orderAsUbl } from './ubl/order'
import { readUbl, writeUbl, type Element, type Read } from './ubl/xml'

/** Places of a price as UBL is written here. */
const PRICE_PLACES = 6
const QUANTITY_PLACES = 12

export type Behaviour = StandInSupplier
/** What a supplier’s program sends for an order, each as UBL 2.1. */
export interface Documents {
  readonly response: string
  readonly despatch: string
  readonly invoice: string
}

/** Where there is no supplier to answer, one that is made up does. Errors: `not-now` for an order that was not sent. */
export async function standInDocuments(id: number, how: Behaviour, today: string): Promise<Documents> {
  const order = await loadPurchase(id)
  if (order.sentOn === null) {
    throw new Refusal('not-now', `${order.number} was not sent. Nobody can answer it yet.`)
  }
  const { text } = await orderAsUbl(id)
  const byLot = new Set(order.lines.filter(({ tracking }) => tracking === 'lot').map(({ line }) => String(line)))
  return answerOrder(text, how, today, byLot)
}

/** A line of an order as the stand-in delivers it. */
interface DeliveredLine {
  readonly number: string
  readonly name: string
  readonly code: string
  readonly unit: string
  readonly quantity: Ratio
  readonly price: Ratio
  readonly comesOn: string
}

/**
 * A made-up supplier’s answers to a UBL Order: it confirms each line so many days late, in part and dearer as it is told
 * to, sends a despatch advice for what it confirmed (lots for lines in `byLot`), and invoices that with freight.
 */
export function answerOrder(
  order: string,
  { lateDays, percent, dearer, freight }: Behaviour,
  today: string,
  byLot: ReadonlySet<string> = new Set(),
): Documents {
  const read = readUbl('Order', order)
  const number = read.text('ID')
  const currency = read.text('DocumentCurrencyCode')
  const lines = read.all('OrderLine', 'LineItem').map((entry): DeliveredLine => {
    const dueOn = entry.text('Delivery', 'RequestedDeliveryPeriod', 'EndDate')
    return {
      number: entry.text('ID'),
      name: entry.text('Item', 'Name'),
      code: entry.text('Item', 'BuyersItemIdentification', 'ID'),
      unit: unitOf(entry),
      quantity: wholeOf(ratio(entry.text('Quantity')).mul(ratio(percent)).div(ratio(100))),
      price: ratio(entry.text('Price', 'PriceAmount'))
        .mul(ratio(100).add(ratio(dearer)))
        .div(ratio(100)),
      comesOn: toIso(toDay(dueOn) + lateDays),
    }
  })
  return {
    response: responseOf(number, currency, today, lines),
    despatch: despatchOf(number, today, lines, byLot),
    invoice: invoiceOf({ number, currency, today, freight }, lines),
  }
}

/** A code of UN/ECE Recommendation 20; units that only the two sides know are left out: it is the one ordered in. */
const unitOf = (entry: Read): string => {
  const code = entry.attribute('unitCode', 'Quantity')
  return code === 'ZZ' ? '' : code
}

/** Nobody delivers part of a piece: downwards, but at least one. */
function wholeOf(quantity: Ratio): Ratio {
  const { n, d } = parts(quantity)
  const whole = ratio(n / d)
  return whole.compare(ONE) < 0 ? ONE : whole
}

const quantityOf = (line: DeliveredLine): Element => ({
  ...(line.unit && { '@unitCode': line.unit }),
  '#': plain(line.quantity, QUANTITY_PLACES),
})
const amountIn =
  (currency: string) =>
  (value: string): Element => ({ '@currencyID': currency, '#': value })
const priceOf = (line: DeliveredLine, currency: string): Element => ({
  'cbc:PriceAmount': amountIn(currency)(plain(line.price, PRICE_PLACES)),
})
const itemOf = (line: DeliveredLine): Element => ({
  'cbc:Name': line.name,
  'cac:BuyersItemIdentification': { 'cbc:ID': line.code },
})
const plain = (value: Ratio, places: number): string => {
  const text = toDecimal(value, places)
  return text.includes('.') ? text.replace(/\.?0+$/, '') : text
}

const responseOf = (number: string, currency: string, today: string, lines: readonly DeliveredLine[]): string =>
  writeUbl('OrderResponse', {
    'cbc:ID': `R-${number}`,
    'cbc:SalesOrderID': `S-${number}`,
    'cbc:IssueDate': today,
    'cac:OrderReference': { 'cbc:ID': number },
    'cac:OrderLine': lines.map((line) => ({
      'cac:LineItem': {
        'cbc:ID': line.number,
        'cbc:Quantity': quantityOf(line),
        'cac:Delivery': { 'cac:PromisedDeliveryPeriod': { 'cbc:EndDate': line.comesOn } },
        'cac:Price': priceOf(line, currency),
        'cac:Item': itemOf(line),
      },
      'cac:OrderLineReference': { 'cbc:LineID': line.number },
    })),
  })

const despatchOf = (
  number: string,
  today: string,
  lines: readonly DeliveredLine[],
  byLot: ReadonlySet<string>,
): string =>
  writeUbl('DespatchAdvice', {
    'cbc:ID': `D-${number}`,
    'cbc:IssueDate': today,
    'cac:OrderReference': { 'cbc:ID': number },
    'cac:DespatchLine': lines.map((line) => ({
      'cbc:ID': line.number,
      'cbc:DeliveredQuantity': quantityOf(line),
      'cac:OrderLineReference': { 'cbc:LineID': line.number, 'cac:OrderReference': { 'cbc:ID': number } },
      'cac:Item': {
        'cbc:Name': line.name,
        'cac:BuyersItemIdentification': { 'cbc:ID': line.code },
        ...(byLot.has(line.number) && {
          'cac:ItemInstance': { 'cac:LotIdentification': { 'cbc:LotNumberID': `L-${number}-${line.number}` } },
        }),
      },
    })),
  })

function invoiceOf(
  head: { readonly number: string; readonly currency: string; readonly today: string; readonly freight: string },
  lines: readonly DeliveredLine[],
): string {
  const amount = amountIn(head.currency)
  const amounts = lines.map((line) => lineValue(line.quantity, line.price))
  const freight = ratio(head.freight || '0')
  const goods = majorText(amounts.reduce((sum, value) => sum + value, 0n))
  const total = toDecimal(ratio(goods).add(freight), 2)
  const hasFreight = freight.compare(ZERO) > 0
  return writeUbl('Invoice', {
    'cbc:ID': `I-${head.number}`,
    'cbc:IssueDate': head.today,
    'cbc:DocumentCurrencyCode': head.currency,
    'cac:OrderReference': { 'cbc:ID': head.number },
    'cac:AllowanceCharge': hasFreight
      ? {
          'cbc:ChargeIndicator': 'true',
          'cbc:AllowanceChargeReason': 'Freight',
          'cbc:Amount': amount(toDecimal(freight, 2)),
        }
      : undefined,
    'cac:LegalMonetaryTotal': {
      'cbc:LineExtensionAmount': amount(goods),
      'cbc:TaxExclusiveAmount': amount(total),
      'cbc:PayableAmount': amount(total),
    },
    'cac:InvoiceLine': lines.map((line, index) => ({
      'cbc:ID': line.number,
      'cbc:InvoicedQuantity': quantityOf(line),
      'cbc:LineExtensionAmount': amount(majorText(amounts[index]!)),
      'cac:OrderLineReference': { 'cbc:LineID': line.number },
      'cac:Item': itemOf(line),
      'cac:Price': priceOf(line, head.currency),
    })),
  })
}
