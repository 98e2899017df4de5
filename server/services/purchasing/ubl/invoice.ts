import { isIsoDate } from '~~/core/calendar/days'
import { MINOR_DIGITS } from '~~/core/money'
import { ratio, toDecimal, ZERO, type Ratio } from '~~/core/units/exact'
import { Refusal } from '~~/server/utils/refusal'
import type { ReadInvoice } from '~~/shared/purchasing/answers'
import { loadCompany } from '../../company/company'
import { loadPurchase } from '../load-purchase'
import { loadUnitCodes } from './unit-codes'
import { readUbl, type Read } from './xml'

type Purchase = Awaited<ReturnType<typeof loadPurchase>>

/**
 * Reads a supplier's UBL 2.1 Invoice for an order as what could be entered: nothing is recorded. Amounts are net: what
 * is asked for goods and charges, without tax, in the currency of the order. Lines are known by their number on our
 * order, else by the item's code; of several for one line the amounts are added.
 *
 * `concerns` says what does not fit: lines of something else, another currency, sums that do not add up, tax.
 *
 * Errors: `invalid-input` for what is no such document, or invoices another order only.
 */
export async function readInvoice(id: number, text: string): Promise<ReadInvoice> {
  const order = await loadPurchase(id)
  const read = readUbl('Invoice', text)
  requireForOrder(order.number, read)
  const units = await loadUnitCodes()
  const concerns: string[] = []
  const lines = new Map<number, ReadInvoice['lines'][number]>()
  for (const entry of read.all('InvoiceLine')) {
    const line = lineOf(order, entry)
    const amount = amountOf(entry, 'LineExtensionAmount')
    if (!line) {
      concerns.push(
        `Line ${entry.text('ID') || '?'}, ${entry.text('Item', 'Name') || 'without a name'}, is not on ${order.number}: ${asMoney(amount)}.`,
      )
      continue
    }
    const before = lines.get(line.id)
    const code = entry.attribute('unitCode', 'InvoicedQuantity')
    const quantity = quantityOf(entry).add(ratio(before?.quantity ?? '0'))
    lines.set(line.id, {
      lineId: line.id,
      quantity: toPlain(quantity),
      unit: units.get(code) ?? line.unit,
      amount: asMoney(amount.add(ratio(before?.amount ?? '0'))),
    })
  }
  const charges = read.all('AllowanceCharge').map(chargeOf)
  return {
    number: read.text('ID'),
    invoicedOn: isIsoDate(read.text('IssueDate')) ? read.text('IssueDate') : null,
    lines: [...lines.values()],
    charges,
    concerns: [...concerns, ...(await currencyConcern(order, read)), ...sumConcerns(read, charges)],
  }
}

/** An invoice that names orders has to name this one; one that names none is taken for whoever chose it. */
function requireForOrder(number: string, read: Read): void {
  const named = [
    ...read.all('OrderReference', 'ID'),
    ...read.all('InvoiceLine', 'OrderLineReference', 'OrderReference', 'ID'),
  ].map((entry) => entry.text())
  if (named.length > 0 && !named.includes(number)) {
    const detail = `It invoices ${[...new Set(named)].join(', ')}, not ${number}.`
    throw new Refusal('invalid-input', detail, { text: detail })
  }
}

function lineOf(order: Purchase, entry: Read): Purchase['lines'][number] | undefined {
  const named = entry.text('OrderLineReference', 'LineID')
  const codes = ['BuyersItemIdentification', 'SellersItemIdentification', 'StandardItemIdentification'].map((kind) =>
    entry.text('Item', kind, 'ID').toLowerCase(),
  )
  return (
    order.lines.find(({ line }) => String(line) === named) ??
    order.lines.find(({ code, supplierCode }) =>
      [code, supplierCode].some((known) => known !== '' && codes.includes(known.toLowerCase())),
    )
  )
}

/** A charge, or an allowance below nought. */
function chargeOf(entry: Read): ReadInvoice['charges'][number] {
  const isCharge = entry.text('ChargeIndicator').toLowerCase() === 'true'
  const amount = amountOf(entry, 'Amount')
  const name = entry.text('AllowanceChargeReason') || (isCharge ? 'Charge' : 'Allowance')
  return { name: name.slice(0, 60), amount: asMoney(isCharge ? amount : amount.neg()) }
}

async function currencyConcern(order: Purchase, read: Read): Promise<string[]> {
  const asked = read.text('DocumentCurrencyCode')
  const own = order.currency ?? (await loadCompany())?.currency ?? ''
  return asked === '' || asked === own ? [] : [`It is in ${asked}, the order in ${own}.`]
}

/** Whether lines and charges make what the invoice says that they do, and what tax it asks for besides. */
function sumConcerns(read: Read, charges: ReadInvoice['charges']): string[] {
  const told = read.text('LegalMonetaryTotal', 'TaxExclusiveAmount')
  const sum = [
    ...read.all('InvoiceLine').map((entry) => amountOf(entry, 'LineExtensionAmount')),
    ...charges.map(({ amount }) => ratio(amount)),
  ].reduce((total, amount) => total.add(amount), ZERO)
  const tax = read.all('TaxTotal').reduce((total, entry) => total.add(amountOf(entry, 'TaxAmount')), ZERO)
  return [
    ...(told !== '' && !amountOf(read, 'LegalMonetaryTotal', 'TaxExclusiveAmount').equals(sum)
      ? [`Its lines and charges make ${asMoney(sum)}, and it says ${told} without tax.`]
      : []),
    ...(tax.equals(ZERO) ? [] : [`${asMoney(tax)} of tax are asked for besides; amounts here are without tax.`]),
  ]
}

const amountOf = (entry: Read, ...path: readonly string[]): Ratio => decimalOf(entry.text(...path)) ?? ZERO
const quantityOf = (entry: Read): Ratio => decimalOf(entry.text('InvoicedQuantity')) ?? ZERO
const asMoney = (amount: Ratio): string => toDecimal(amount, MINOR_DIGITS)
/** Quantities of UBL are decimals, so that they end. */
const toPlain = (quantity: Ratio): string => toDecimal(quantity, 12).replace(/\.?0+$/, '')

/** A plain decimal, as xsd:decimal writes it. */
const decimalOf = (text: string): Ratio | null => (/^-?\d{1,15}(\.\d{1,12})?$/.test(text) ? ratio(text) : null)
