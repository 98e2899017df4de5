import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { applyImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { idOf, onHand, owner, refusalOf, withDemo } from './database'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
beforeAll(async () => {
  supplierId = await idOf('suppliers', 'TULLY')
})

const ordered = (lines: readonly { itemId: number; quantity: string }[]) =>
  inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId,
      note: '',
      lines: lines.map(({ itemId, quantity }) => ({
        itemId,
        quantity: typedQuantity(quantity),
        unit: 'piece',
        price: '1',
        dueOn: '2026-10-20',
      })),
    }),
  )
const opened = (text: string, fileName = 'packing list.csv') =>
  openImport(owner, { table: 'goods-received', fileName, content: Buffer.from(text).toString('base64') })
const HEADINGS = 'order,line,item,quantity,bin,lot,expires_on,packing_list'
const receivedOf = async (id: number): Promise<string[]> => (await loadPurchase(id)).lines.map((line) => line.received)

describe('goods received from a file', () => {
  it('200 lines with 6 faults: every one is told by its line, nothing is received; mended, all of it, and back as one', async () => {
    const plain = await make('GF-PLAIN')
    const dated = await make('GF-DATED', { tracking: 'lot' })
    const orders = []
    for (let count = 0; count < 4; count++) {
      const lines = Array.from({ length: 50 }, (_, at) => ({ itemId: at % 2 ? dated : plain, quantity: '10' }))
      orders.push(await ordered(lines))
    }
    const good = orders.flatMap(({ number }) =>
      Array.from({ length: 50 }, (_, at) =>
        at % 2
          ? [number, String(at + 1), 'gf-dated', '10', 'SHELF-A', `L-${at}`, '2027-05-01', 'GF 1']
          : [number, String(at + 1), '', '10', '', '', '', 'GF 1'],
      ),
    )
    const bad = good.map((line) => [...line])
    // Spreadsheets count the headings as line 1.
    bad[3]![0] = 'PO-9999'
    bad[61]![2] = 'THREAD'
    bad[102]![3] = '12'
    bad[142]![3] = '11'
    bad[142]![4] = 'NOWHERE'
    bad[199]![6] = '2026-01-01'
    const textOf = (lines: readonly string[][]): string => [HEADINGS, ...lines.map((line) => line.join(','))].join('\n')
    const wrong = await opened(textOf(bad))
    expect(wrong.faults.map(({ line, column, detail }) => `${line} ${column}: ${detail}`).sort()).toEqual(
      [
        '5 order: There is no purchase order “PO-9999”.',
        `63 line: Line 12 of ${orders[1]!.number} is GF-DATED, not “THREAD”.`,
        '104 reason: 2 pc GF-PLAIN more than was ordered. Say why it is taken in.',
        '144 bin: There is no bin “NOWHERE”.',
        '144 reason: 1 pc GF-PLAIN more than was ordered. Say why it is taken in.',
        '201 reason: GF-DATED expired on 1 Jan. Say why it is taken in.',
      ].sort(),
    )
    expect([wrong.made, wrong.effects]).toEqual([0, []])
    const refused = await refusalOf((tx) => applyImport(tx, owner, wrong.id))
    expect(refused.detail).toMatch(/^Line \d+, /)
    expect(await onHand('GF-PLAIN')).toBe('0')
    const right = await opened(textOf(good))
    expect([right.faults, right.made, right.effects.length]).toEqual([[], 200, 200])
    expect(right.effects[0]).toBe(`${orders[0]!.number} GF-PLAIN: received 0 → 10 pc`)
    expect(await onHand('GF-PLAIN')).toBe('0')
    await inTransaction((tx) => applyImport(tx, owner, right.id))
    // 4 orders of 25 lines of each item, of 10.
    expect([await onHand('GF-PLAIN'), await onHand('GF-DATED')]).toEqual(['1000', '1000'])
    const [receipts] = await rows<{ count: number }>(
      db,
      sql`select count(*)::int as count from batch_receipts where batch_id = ${right.id}`,
    )
    expect(receipts!.count).toBe(4)
    expect((await loadPurchase(orders[0]!.id)).state).toBe('received')
    await inTransaction((tx) => takeBack(tx, owner, right.id))
    expect([await onHand('GF-PLAIN'), await onHand('GF-DATED')]).toEqual(['0', '0'])
    expect(new Set(await receivedOf(orders[3]!.id))).toEqual(new Set(['0']))
  })

  // OASIS UBL 2.1, DespatchAdvice: elements as published (section “Despatch Advice Schema”), written by hand.
  it('a despatch advice of UBL 2.1 says the same: lines, lots and serial numbers', async () => {
    const [lot, piece] = [
      await make('GF-UBL-LOT', { tracking: 'lot' }),
      await make('GF-UBL-PIECE', { tracking: 'piece' }),
    ]
    const order = await ordered([
      { itemId: lot, quantity: '5' },
      { itemId: piece, quantity: '2' },
    ])
    const line = (id: number, unitCode: string, quantity: string, item: string): string => `
      <cac:DespatchLine><cbc:ID>${id}</cbc:ID>
        <cbc:DeliveredQuantity unitCode="${unitCode}">${quantity}</cbc:DeliveredQuantity>
        <cac:OrderLineReference><cbc:LineID>${id}</cbc:LineID>
          <cac:OrderReference><cbc:ID>${order.number}</cbc:ID></cac:OrderReference></cac:OrderLineReference>
        <cac:Item>${item}</cac:Item></cac:DespatchLine>`
    const instance = (inner: string): string => `<cac:ItemInstance>${inner}</cac:ItemInstance>`
    const serial = (number: string): string => instance(`<cbc:SerialID>${number}</cbc:SerialID>`)
    const text = `<?xml version="1.0" encoding="UTF-8"?>
      <DespatchAdvice xmlns="urn:oasis:names:specification:ubl:schema:xsd:DespatchAdvice-2"
        xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2"
        xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
      <cbc:ID>DA-77</cbc:ID><cbc:IssueDate>2026-10-05</cbc:IssueDate>
      ${line(1, 'C62', '5', `<cbc:Name>Glue</cbc:Name><cac:BuyersItemIdentification><cbc:ID>GF-UBL-LOT</cbc:ID></cac:BuyersItemIdentification>${instance('<cac:LotIdentification><cbc:LotNumberID>U-9</cbc:LotNumberID><cbc:ExpiryDate>2027-01-31</cbc:ExpiryDate></cac:LotIdentification>')}`)}
      ${line(2, 'C62', '2', serial('SN-1') + serial('SN-2'))}
      </DespatchAdvice>`
    const preview = await opened(text, 'advice.xml')
    expect([preview.faults, preview.made]).toEqual([[], 3])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    expect(await receivedOf(order.id)).toEqual(['5', '2'])
    const held = await rows<{ lot: string | null; label: string | null; expires: string | null }>(
      db,
      sql`
        select n.number as lot, p.label, n.expires_on as expires
        from balances b
        left join lots n on n.id = b.lot_id
        left join pieces p on p.id = b.piece_id
        where b.item_id in (${lot}, ${piece}) and b.on_hand > 0
        order by b.item_id, p.label`,
    )
    expect(held.map((row) => [row.lot, row.label, row.expires])).toEqual([
      ['U-9', null, '2027-01-31'],
      [null, 'SN-1', null],
      [null, 'SN-2', null],
    ])
    const other = await refusalOf(() => opened('<Invoice/>', 'invoice.xml'))
    expect(other.detail).toBe('This is a document of another kind: Invoice, where DespatchAdvice of UBL is read.')
  })
})

it('two lots of one line together are not more than was ordered either', async () => {
  const item = await make('GF-TWICE', { tracking: 'lot' })
  const order = await ordered([{ itemId: item, quantity: '10' }])
  const [line] = (await loadPurchase(order.id)).lines
  const part = (lot: string) => ({
    lineId: line!.id,
    quantity: typedQuantity('6'),
    unit: 'piece',
    binId: here.shelf,
    lot,
    expiresOn: null,
  })
  const refused = await refusalOf((tx) =>
    receive(tx, owner, order.id, { version: 1, packingList: '', lines: [part('A'), part('B')] }),
  )
  expect(refused.fields).toEqual({
    'lines.1.reason': '2 pc GF-TWICE more than was ordered. Say why it is taken in.',
  })
})
