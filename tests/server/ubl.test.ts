import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { inTransaction } from '~~/server/database/transactions'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { readAnswer } from '~~/server/services/purchasing/ubl/answer'
import { orderAsUbl } from '~~/server/services/purchasing/ubl/order'
import { Refusal } from '~~/server/utils/refusal'
import { idOf, owner, withDemo } from './database'

/*
 * Elements of UBL 2.1 in the order in which its schemas have them (OASIS Standard, 4 November 2013:
 * UBL-Order-2.1.xsd, UBL-CommonAggregateComponents-2.1.xsd), as far as they are used here; written from memory.
 */
const SEQUENCES: Readonly<Record<string, readonly string[]>> = {
  Order: [
    ...['cbc:UBLVersionID', 'cbc:CustomizationID', 'cbc:ProfileID', 'cbc:ID', 'cbc:IssueDate', 'cbc:Note'],
    ...['cbc:DocumentCurrencyCode', 'cbc:LineCountNumeric', 'cac:BuyerCustomerParty', 'cac:SellerSupplierParty'],
    ...['cac:Delivery', 'cac:DeliveryTerms', 'cac:PaymentTerms', 'cac:AllowanceCharge'],
    ...['cac:AnticipatedMonetaryTotal', 'cac:OrderLine'],
  ],
  'cac:Party': ['cac:PartyName', 'cac:PostalAddress', 'cac:Contact'],
  'cac:AllowanceCharge': ['cbc:ChargeIndicator', 'cbc:AllowanceChargeReason', 'cbc:Amount'],
  'cac:AnticipatedMonetaryTotal': ['cbc:LineExtensionAmount', 'cbc:ChargeTotalAmount', 'cbc:PayableAmount'],
  'cac:LineItem': [
    ...['cbc:ID', 'cbc:Note', 'cbc:Quantity', 'cbc:LineExtensionAmount', 'cac:Delivery', 'cac:Price', 'cac:Item'],
  ],
  'cac:Price': ['cbc:PriceAmount', 'cbc:BaseQuantity'],
  'cac:Item': [
    'cbc:Description',
    'cbc:Name',
    'cac:BuyersItemIdentification',
    'cac:SellersItemIdentification',
    'cac:StandardItemIdentification',
  ],
}

withDemo()

let orderId = 0
beforeAll(async () => {
  const supplierId = await idOf('suppliers', 'ARDEN')
  const lines = [
    {
      itemId: await idOf('items', 'PAPER-100'),
      quantity: typedQuantity('6'),
      unit: 'ream',
      price: '54.00',
      dueOn: '2026-10-19',
    },
    {
      itemId: await idOf('items', 'BONE'),
      quantity: typedQuantity('3'),
      unit: 'piece',
      price: '4.5',
      dueOn: '2026-10-26',
    },
  ]
  const note = 'Cream, “long grain” & <untrimmed>'
  const made = await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId,
      note,
      lines,
      deliveryTerms: 'carriage paid',
      charges: [{ name: 'Freight', amount: '12.50' }],
    }),
  )
  orderId = made.id
})

/** The children of each element, in their order, by a reading of tags alone. */
function childrenOf(text: string): readonly (readonly [string, readonly string[]])[] {
  const found: [string, string[]][] = []
  const open: [string, string[]][] = []
  for (const [, isEnd, name, isEmpty] of text.matchAll(/<(\/?)([A-Za-z][\w:]*)(?:\s[^<>]*?)?(\/?)>/g)) {
    if (isEnd) {
      found.push(open.pop()!)
    } else {
      open.at(-1)?.[1].push(name!)
      if (!isEmpty) {
        open.push([name!, []])
      }
    }
  }
  return found
}

describe('an order as UBL 2.1', () => {
  it('has its elements in the order of the schemas, and nothing empty', async () => {
    const { name, text } = await orderAsUbl(orderId)
    const { number } = await loadPurchase(orderId)
    expect(name).toBe(`${number}.xml`)
    const all = childrenOf(text)
    for (const [element, children] of all) {
      const sequence = SEQUENCES[element]
      if (sequence) {
        expect(
          children.filter((child) => !sequence.includes(child)),
          element,
        ).toEqual([])
        const places = children.map((child) => sequence.indexOf(child))
        expect(places, element).toEqual([...places].sort((a, b) => a - b))
      }
    }
    expect(all.map(([element]) => element)).toEqual(expect.arrayContaining(Object.keys(SEQUENCES)))
    expect(text).not.toMatch(/<([\w:]+)[^>]*>\s*<\/\1>|<[\w:]+\s*\/>/)
  })
  it('says what is ordered: quantities by the codes of UN/ECE recommendation 20, money by ISO 4217', async () => {
    const { text } = await orderAsUbl(orderId)
    // A ream is RM, a piece H87 or C62 (recommendation 20).
    expect(text).toContain('<cbc:Quantity unitCode="RM">6</cbc:Quantity>')
    expect(text).toMatch(/<cbc:Quantity unitCode="(H87|C62)">3<\/cbc:Quantity>/)
    // 6 × 54.00 + 3 × 4.50 = 337.50; with 12.50 of freight 350.00.
    expect(text).toContain('<cbc:LineExtensionAmount currencyID="EUR">337.50</cbc:LineExtensionAmount>')
    expect(text).toContain('<cbc:ChargeTotalAmount currencyID="EUR">12.50</cbc:ChargeTotalAmount>')
    expect(text).toContain('<cbc:PayableAmount currencyID="EUR">350.00</cbc:PayableAmount>')
    expect(text).toContain('<cbc:LineExtensionAmount currencyID="EUR">13.50</cbc:LineExtensionAmount>')
    expect(text).toContain('<cbc:EndDate>2026-10-19</cbc:EndDate>')
    expect(text).toContain('<cbc:SpecialTerms>carriage paid</cbc:SpecialTerms>')
    expect(text).toContain('Cream, “long grain” &amp; &lt;untrimmed&gt;')
  })
})

/** An answer to the order, as a supplier’s program would write it. */
const answerTo = (number: string, lines: string): string => `<?xml version="1.0" encoding="UTF-8"?>
<ns:OrderResponse xmlns:ns="urn:oasis:names:specification:ubl:schema:xsd:OrderResponse-2"
  xmlns:a="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
  xmlns:b="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <b:UBLVersionID>2.1</b:UBLVersionID><b:ID>R-1</b:ID><b:SalesOrderID>AM-9001</b:SalesOrderID>
  <b:IssueDate>2026-10-06</b:IssueDate>
  <a:OrderReference><b:ID>${number}</b:ID></a:OrderReference>
  ${lines}
</ns:OrderResponse>`
const answerLine = (content: string, reference: string): string => `
  <a:OrderLine><a:LineItem><b:ID>x</b:ID>${content}<a:Item><b:Name>Paper</b:Name></a:Item></a:LineItem>
  <a:OrderLineReference><b:LineID>${reference}</b:LineID></a:OrderLineReference></a:OrderLine>`

describe('a supplier’s answer', () => {
  it('is read line by line: another quantity, unit, price and day; what it leaves out stays as ordered', async () => {
    const { number, lines } = await loadPurchase(orderId)
    // 2 000 sheets are 4 reams of 500; 1 080.00 for ten thousand sheets are 54.00 a ream.
    const paper = `<b:Quantity unitCode="ST">2000</b:Quantity>
      <a:Delivery><a:PromisedDeliveryPeriod><b:EndDate>2026-10-23</b:EndDate></a:PromisedDeliveryPeriod></a:Delivery>
      <a:Price><b:PriceAmount currencyID="EUR">1100.00</b:PriceAmount><b:BaseQuantity unitCode="ST">10000</b:BaseQuantity></a:Price>`
    const text = answerTo(number, answerLine(paper, '1') + answerLine('', '2') + answerLine('', '9'))
    const answer = await readAnswer(orderId, text)
    expect(answer).toEqual({
      reference: 'AM-9001',
      lines: [
        { lineId: lines[0]!.id, quantity: '4', price: '55', dueOn: '2026-10-23' },
        { lineId: lines[1]!.id, quantity: '3', price: '4.5', dueOn: '2026-10-26' },
      ],
      unknown: ['Line 9: Paper'],
    })
  })
  it('to another order, of another kind, with definitions of its own, or no XML at all is refused', async () => {
    const refused = (text: string): Promise<string> =>
      readAnswer(orderId, text).then(
        () => 'taken',
        (error: unknown) => (error instanceof Refusal ? error.detail : String(error)),
      )
    const { number } = await loadPurchase(orderId)
    expect(await refused(answerTo('PO-9999', ''))).toBe(`It answers PO-9999, not ${number}.`)
    expect(await refused((await orderAsUbl(orderId)).text)).toBe(
      'This is a document of another kind: Order, where OrderResponse of UBL is read.',
    )
    const laughs = `<!DOCTYPE x [<!ENTITY a "ha"><!ENTITY b "&a;&a;">]>${answerTo(number, '')}`
    expect([await refused(laughs), await refused('not at all <')]).toEqual([
      'This is no XML that can be read here.',
      'This is no XML that can be read here.',
    ])
  })
})
