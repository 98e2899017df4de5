import { beforeAll, describe, expect, it } from 'vitest'
import { readInvoice } from '~~/server/services/purchasing/ubl/invoice'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { refusalOf, withDemo } from './database'
import { bought, invoice, ownSuppliers, sound } from './purchase-helpers'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let order = { id: 0, number: '', lineIds: [] as number[] }
beforeAll(async () => {
  const [supplierId = 0] = await ownSuppliers()
  const made = await bought(
    supplierId,
    { itemId: await make('UI-A'), quantity: '10', price: '2.00' },
    { itemId: await make('UI-B'), quantity: '5', price: '8.00' },
  )
  order = { id: made.orderId, number: (await loadPurchase(made.orderId)).number, lineIds: made.lineIds }
  expect(here.shelf).toBeGreaterThan(0)
})

/*
 * Element by element as in the example UBL-Invoice-2.1-Example.xml of OASIS UBL 2.1, from memory: goods of 22.00 and
 * 40.00, freight of 6.00, an allowance of 1.00, together 67.00; 20 % of tax are 13.40.
 */
const line = (id: string, quantity: string, amount: string, item: string, reference = '') => `
  <cac:InvoiceLine>
    <cbc:ID>${id}</cbc:ID>
    <cbc:InvoicedQuantity unitCode="C62">${quantity}</cbc:InvoicedQuantity>
    <cbc:LineExtensionAmount currencyID="EUR">${amount}</cbc:LineExtensionAmount>
    ${reference}
    <cac:Item><cbc:Name>${item} of theirs</cbc:Name>
      <cac:BuyersItemIdentification><cbc:ID>${item}</cbc:ID></cac:BuyersItemIdentification></cac:Item>
    <cac:Price><cbc:PriceAmount currencyID="EUR">1.00</cbc:PriceAmount></cac:Price>
  </cac:InvoiceLine>`
const charge = (isCharge: boolean, reason: string, amount: string) => `
  <cac:AllowanceCharge>
    <cbc:ChargeIndicator>${isCharge}</cbc:ChargeIndicator>
    <cbc:AllowanceChargeReason>${reason}</cbc:AllowanceChargeReason>
    <cbc:Amount currencyID="EUR">${amount}</cbc:Amount>
  </cac:AllowanceCharge>`
const document = (edit: { of?: string; currency?: string; more?: string; total?: string } = {}) =>
  `
<?xml version="1.0" encoding="UTF-8"?>
<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2"
  xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
  xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <cbc:UBLVersionID>2.1</cbc:UBLVersionID>
  <cbc:ID>TT-R 9</cbc:ID>
  <cbc:IssueDate>2026-10-03</cbc:IssueDate>
  <cbc:DocumentCurrencyCode>${edit.currency ?? 'EUR'}</cbc:DocumentCurrencyCode>
  <cac:OrderReference><cbc:ID>${edit.of ?? order.number}</cbc:ID></cac:OrderReference>
  ${charge(true, 'Freight', '6.00')}${charge(false, 'Promotion', '1.00')}
  <cac:TaxTotal><cbc:TaxAmount currencyID="EUR">13.40</cbc:TaxAmount></cac:TaxTotal>
  <cac:LegalMonetaryTotal>
    <cbc:TaxExclusiveAmount currencyID="EUR">${edit.total ?? '67.00'}</cbc:TaxExclusiveAmount>
    <cbc:PayableAmount currencyID="EUR">80.40</cbc:PayableAmount>
  </cac:LegalMonetaryTotal>
  ${line('1', '10', '22.00', 'UI-A', '<cac:OrderLineReference><cbc:LineID>1</cbc:LineID></cac:OrderLineReference>')}
  ${line('2', '3', '24.00', 'UI-B')}${line('3', '2', '16.00', 'UI-B')}${edit.more ?? ''}
</Invoice>`.trim()

describe('a supplier’s invoice as UBL 2.1', () => {
  it('is read as what could be entered: by line number or item, charges and allowances beside it, tax told', async () => {
    expect(await readInvoice(order.id, document())).toEqual({
      number: 'TT-R 9',
      invoicedOn: '2026-10-03',
      lines: [
        { lineId: order.lineIds[0], quantity: '10', unit: 'piece', amount: '22.00' },
        { lineId: order.lineIds[1], quantity: '5', unit: 'piece', amount: '40.00' },
      ],
      charges: [
        { name: 'Freight', amount: '6.00' },
        { name: 'Promotion', amount: '-1.00' },
      ],
      concerns: ['13.40 of tax are asked for besides; amounts here are without tax.'],
    })
  })

  it('tells of lines of something else, of another currency, and of sums that do not add up', async () => {
    const { concerns } = await readInvoice(
      order.id,
      document({ currency: 'CHF', total: '70.00', more: line('4', '1', '3.50', 'UI-OTHER') }),
    )
    expect(concerns).toEqual([
      `Line 4, UI-OTHER of theirs, is not on ${order.number}: 3.50.`,
      'It is in CHF, the order in EUR.',
      'Its lines and charges make 70.50, and it says 70.00 without tax.',
      '13.40 of tax are asked for besides; amounts here are without tax.',
    ])
  })

  it('is refused for another order, for another kind of document, and with definitions of its own', async () => {
    expect((await refusalOf(() => readInvoice(order.id, document({ of: 'PO-9999' })))).detail).toBe(
      `It invoices PO-9999, not ${order.number}.`,
    )
    expect((await refusalOf(() => readInvoice(order.id, '<Order/>'))).detail).toMatch(/document of another kind: Order/)
    const bomb = document().replace('<Invoice', '<!DOCTYPE x [<!ENTITY a "b">]><Invoice')
    expect((await refusalOf(() => readInvoice(order.id, bomb))).detail).toBe('This is no XML that can be read here.')
  })

  it('is entered as it was read: the goods cost what it asks, freight and all', async () => {
    const { number, invoicedOn, lines, charges } = await readInvoice(order.id, document())
    await invoice(order.id, {
      number,
      invoicedOn: invoicedOn!,
      lines: lines.map((entry) => ({ ...entry, quantity: entry.quantity as never })),
      charges: charges.map((entry) => ({ ...entry, by: 'value' as const })),
    })
    const { invoices, uninvoiced } = await loadPurchase(order.id)
    expect(uninvoiced).toEqual([])
    expect(invoices).toHaveLength(1)
    await sound()
  })
})
