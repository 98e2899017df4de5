import { majorText } from '~~/core/money'
import { db } from '~~/server/database/client'
import { company } from '~~/server/database/schema'
import { loadUnits } from '../../catalogue/measured-items'
import { loadPurchase } from '../load-purchase'
import { totalOfCharges } from '../purchase-total'
import { writeUbl, type Element } from './xml'

/** Of UN/ECE recommendation 20: one of something, and a unit that both sides know by its name. */
const MUTUALLY_DEFINED = 'ZZ'

/** A purchase order as UBL 2.1 Order. What was given up is not in it. */
export async function orderAsUbl(id: number): Promise<{ name: string; text: string }> {
  const order = await loadPurchase(id)
  const [own] = await db.select().from(company)
  const units = new Map((await loadUnits(db)).map((unit) => [unit.code, unit]))
  const currency = order.currency ?? own!.currency
  const amount = (value: string): Element => ({ '@currencyID': currency, '#': value })
  const quantityOf = (value: string, unit: string): Element => ({
    '@unitCode': units.get(unit)?.rec20 ?? MUTUALLY_DEFINED,
    '#': value,
  })
  const lines = order.lines.filter((line) => !line.closedShort && line.replacesLineId === null)
  const text = writeUbl('Order', {
    'cbc:ID': order.number,
    'cbc:IssueDate': order.orderedOn,
    'cbc:Note': order.note,
    'cbc:DocumentCurrencyCode': currency,
    'cbc:LineCountNumeric': String(lines.length),
    'cac:BuyerCustomerParty': { 'cac:Party': partyOf(own!.name, '') },
    'cac:SellerSupplierParty': { 'cac:Party': partyOf(order.supplier, order.email, order.address) },
    'cac:Delivery': { 'cac:DeliveryAddress': addressOf(order.deliverTo ?? '', order.deliverAddress ?? '') },
    'cac:DeliveryTerms': { 'cbc:SpecialTerms': order.deliveryTerms },
    'cac:PaymentTerms': { 'cbc:Note': order.paymentTerms },
    'cac:AllowanceCharge': order.charges.map((charge) => ({
      'cbc:ChargeIndicator': 'true',
      'cbc:AllowanceChargeReason': charge.name,
      'cbc:Amount': amount(charge.amount),
    })),
    'cac:AnticipatedMonetaryTotal': {
      'cbc:LineExtensionAmount': amount(sumOf(lines)),
      ...(order.charges.length > 0 && {
        'cbc:ChargeTotalAmount': amount(majorText(totalOfCharges(order.charges))),
      }),
      'cbc:PayableAmount': amount(
        majorText(lines.reduce((sum, line) => sum + BigInt(line.value), totalOfCharges(order.charges))),
      ),
    },
    'cac:OrderLine': lines.map((line) => ({
      'cac:LineItem': {
        'cbc:ID': String(line.line),
        'cbc:Note': units.get(line.unit)?.rec20 ? '' : `Quantity in ${units.get(line.unit)?.plural ?? line.unit}`,
        'cbc:Quantity': quantityOf(line.entered, line.unit),
        'cbc:LineExtensionAmount': amount(majorText(line.value)),
        'cac:Delivery': { 'cac:RequestedDeliveryPeriod': { 'cbc:EndDate': line.dueOn } },
        'cac:Price': { 'cbc:PriceAmount': amount(line.price), 'cbc:BaseQuantity': quantityOf('1', line.unit) },
        'cac:Item': {
          'cbc:Description': line.purchaseText,
          'cbc:Name': line.name,
          'cac:BuyersItemIdentification': { 'cbc:ID': line.code },
          'cac:SellersItemIdentification': { 'cbc:ID': line.supplierCode },
        },
      },
    })),
  })
  return { name: `${order.number}.xml`, text }
}

const sumOf = (lines: readonly { readonly value: string }[]): string =>
  majorText(lines.reduce((sum, line) => sum + BigInt(line.value), 0n))

const partyOf = (name: string, email: string, address = ''): Element => ({
  'cac:PartyName': { 'cbc:Name': name },
  'cac:PostalAddress': addressOf('', address),
  'cac:Contact': { 'cbc:ElectronicMail': email },
})

/** Addresses are kept as they are written: a line each. */
const addressOf = (name: string, address: string): Element => ({
  'cac:AddressLine': [name, ...address.split('\n')]
    .map((line) => line.trim())
    .filter((line) => line !== '')
    .map((line) => ({ 'cbc:Line': line })),
})
