import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { changeMethod, changeStandard } from '~~/server/services/books/costing'
import { closeBooks, loadBookSettings, setLimits } from '~~/server/services/books/periods'
import { exportTable } from '~~/server/services/books/export'
import { notInvoiced } from '~~/server/services/books/not-invoiced'
import { accounts, journal, stockValue } from '~~/server/services/books/value'
import { loadDefinition, saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { createItem } from '~~/server/services/catalogue/items'
import { inTransaction, rehearse } from '~~/server/database/transactions'
import { receive } from '~~/server/services/purchasing/goods-in'
import { cancelInvoice } from '~~/server/services/purchasing/cancel-invoice'
import { recordInvoice } from '~~/server/services/purchasing/invoices'
import { loadInvoices, loadUninvoiced } from '~~/server/services/purchasing/invoice-queries'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { correct } from '~~/server/services/stock/correct'
import { checkLedger } from '~~/server/ledger/check'
import { reverse } from '~~/server/ledger/reverse'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { majorText } from '~~/core/money'
import { ExportQuery, type ExportName } from '~~/shared/books/requests'
import { ItemEdit } from '~~/shared/catalogue/item'
import type { CostMethod } from '~~/core/costing'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'

withDemo()
let shelf = 0
beforeAll(async () => {
  shelf = await idOf('places', 'SHELF-A')
})
const make = async (code: string, more: object = {}): Promise<number> =>
  (
    await inTransaction(async (tx) =>
      createItem(
        tx,
        owner,
        ItemEdit.parse({
          code,
          name: `${code} to test with`,
          groupId: await idOf('item_groups', 'TOOLS'),
          stockUnit: 'piece',
          buyingUnit: 'piece',
          sellingUnit: 'piece',
          finestStep: '1',
          ...more,
        }),
      ),
    )
  ).id
const change = (itemId: number, direction: 'more' | 'less', quantity: string, more: object = {}) =>
  inTransaction((tx) =>
    correct(tx, owner, {
      itemId,
      binId: shelf,
      lot: '',
      direction,
      quantity: typedQuantity(quantity),
      unit: 'piece',
      reason: direction === 'more' ? 'found' : 'sample',
      unitCost: '',
      expiresOn: null,
      ...more,
    }),
  )
const bought = async (
  itemId: number,
  quantity: string,
  price: string,
): Promise<{ orderId: number; lineId: number; version: number }> => {
  const order = await inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId: 1,
      note: '',
      lines: [{ itemId, quantity: typedQuantity(quantity), unit: 'piece', price, dueOn: '2026-10-20' }],
    }),
  )
  const [line] = (await loadPurchase(order.id)).lines
  await inTransaction((tx) =>
    receive(tx, owner, order.id, {
      version: 1,
      packingList: '',
      lines: [
        { lineId: line!.id, quantity: typedQuantity(quantity), unit: 'piece', binId: shelf, lot: '', expiresOn: null },
      ],
    }),
  )
  return { orderId: order.id, lineId: line!.id, version: 2 }
}
const balanced = async (): Promise<void> => {
  expect(await rows(db, sql`select posting_id from journal group by posting_id having sum(amount) <> 0`)).toEqual([])
  const stock = (await accounts()).find((a) => a.account === 'stock')!
  expect(stock.amount).toBe((await stockValue()).reduce((sum, row) => sum + BigInt(row.value), 0n).toString())
  const [held] = await rows<{ value: string }>(db, sql`select sum(value)::text as value from holdings`)
  expect(stock.amount).toBe(held!.value)
}

const openOf = async (code: string, asOf: string | null = null): Promise<string[]> =>
  (await notInvoiced(asOf))
    .filter((row) => row.code === code)
    .map((row) => `${row.quantity} ${row.amount} · ${row.inStock} ${row.inStockAmount} · ${row.used} ${row.usedAmount}`)

describe('received and not invoiced', () => {
  it('is told receipt line by receipt line, and of the value of stock it is never more than that', async () => {
    const glue = await make('GLUE-AVG')
    await change(glue, 'more', '10', { reason: 'opening stock', unitCost: '4.00' })
    await bought(glue, '10', '6.00')
    await change(glue, 'less', '10')
    // 20 for 100.00 at the average of 5.00: 10 for 50.00 are left, and those that came last cost 60.00.
    expect((await stockValue('item')).find((row) => row.code === 'GLUE-AVG')).toMatchObject({
      value: '5000',
      uninvoiced: '5000',
    })
    expect(await openOf('GLUE-AVG')).toEqual(['10 6000 · 10 6000 · 0 0'])
  })
  it('comes to what its account holds, on any evening', async () => {
    for (const asOf of [null, '2026-10-05', '2026-09-30']) {
      const held = (await accounts(asOf)).find((row) => row.account === 'goods received not invoiced')
      const told = (await notInvoiced(asOf)).reduce((sum, row) => sum + BigInt(row.amount), 0n)
      expect(told.toString()).toBe((-BigInt(held?.amount ?? '0')).toString())
    }
  })
  it('the exports are of the days and sums that the screen shows, with the total', async () => {
    const last = async (name: ExportName, query: object): Promise<string> =>
      (await exportTable(name, ExportQuery.parse(query))).trim().split('\n').at(-1)!
    const inMajor = (rows: readonly { value: string }[]): string =>
      majorText(rows.reduce((sum, row) => sum + BigInt(row.value), 0n).toString())
    expect(await last('stock-value', { by: 'site', asOf: '2026-09-30' })).toContain(
      `2026-09-30,,,,Total,,,,${inMajor(await stockValue('site', '2026-09-30'))},`,
    )
    const csv = await exportTable('journal', ExportQuery.parse({ from: '2026-10-05', until: '2026-10-05' }))
    const days = csv
      .trim()
      .split('\n')
      .slice(1, -1)
      .map((line) => line.split(',')[1])
    expect(new Set(days)).toEqual(new Set(['2026-10-05']))
    expect(csv).toContain('Total 2026-10-05 to 2026-10-05')
    expect(await last('not-invoiced', {})).toContain('Total')
  })
})

describe('a late invoice', () => {
  it('goes to the stock that is left, to what was built from it, and to what was sold; and can be taken back', async () => {
    const wood = await make('WOOD')
    const chair = await make('CHAIR', { source: 'made' })
    await rows(
      db,
      sql`
        with b as (
          insert into boms (item_id, revision, name, from_on, batch_size, batch_unit)
          values (${chair}, 1, 'Chair', '2026-01-01', 1, 'piece')
          returning id
        )
        insert into bom_lines (bom_id, position, item_id, numerator, denominator, unit)
        select id, 1, ${wood}, 2, 1, 'piece'
        from b`,
    )
    const { orderId, lineId } = await bought(wood, '10', '2.00')
    const { id } = await inTransaction((tx) =>
      createBuild(tx, owner, { itemId: chair, quantity: typedQuantity('3'), unit: 'piece', dueOn: '2026-10-08' }),
    )
    await inTransaction((tx) => completeBuild(tx, owner, id, { version: 1, binId: shelf, lot: '', expiresOn: null }))
    await change(chair, 'less', '1')
    // 10 × 2.00; 6 of them make 3 chairs of 4.00; 1 chair is gone
    expect([await valueOf('WOOD'), await valueOf('CHAIR')]).toEqual(['800', '800'])
    expect((await stockValue('item')).find((row) => row.code === 'WOOD')).toMatchObject({
      value: '800',
      uninvoiced: '800',
    })
    // 10 for 20.00 are not invoiced: 4 of them are there, 6 are used.
    expect(await openOf('WOOD')).toEqual(['10 2000 · 4 800 · 6 1200'])
    expect(await loadUninvoiced(orderId)).toEqual([{ lineId, quantity: '10', amount: '2000' }])
    const invoice = await inTransaction((tx) =>
      recordInvoice(tx, owner, orderId, {
        number: 'R-17',
        invoicedOn: '2026-10-05',
        lines: [{ lineId, quantity: typedQuantity('10'), unit: 'piece', amount: '26.00' }],
      }),
    )
    // 0.60 more each: 4 pieces of wood 2.40, 2 chairs 2.40, the chair that is gone 1.20
    expect([await valueOf('WOOD'), await valueOf('CHAIR')]).toEqual(['1040', '1040'])
    expect(new Map(invoice.revalued.map((entry) => [entry.account, entry.amount]))).toEqual(
      new Map([
        ['accounts payable', '-2600'],
        ['goods received not invoiced', '2000'],
        ['stock', '480'],
        ['corrections', '120'],
      ]),
    )
    expect((await stockValue('item')).find((row) => row.code === 'WOOD')!.uninvoiced).toBe('0')
    expect([
      await loadUninvoiced(orderId),
      (await loadInvoices(orderId)).map((invoice) => [invoice.number, invoice.amount, invoice.delta]),
    ]).toEqual([[], [['R-17', '2600', '600']]])
    await balanced()
    expect(
      (
        await refusalOf((tx) =>
          recordInvoice(tx, owner, orderId, {
            number: 'r-17',
            invoicedOn: '2026-10-05',
            lines: [{ lineId, quantity: typedQuantity('1'), unit: 'piece', amount: '1' }],
          }),
        )
      ).fields,
    ).toHaveProperty('number')
    expect(
      (
        await refusalOf((tx) =>
          recordInvoice(tx, owner, orderId, {
            number: 'R-18',
            invoicedOn: '2026-10-05',
            lines: [{ lineId, quantity: typedQuantity('1'), unit: 'piece', amount: '1' }],
          }),
        )
      ).fields,
    ).toEqual({ 'lines.0.quantity': 'WOOD: that is 1 pc more than was received and not invoiced yet.' })
    await inTransaction((tx) => cancelInvoice(tx, owner, invoice.id))
    expect([await valueOf('WOOD'), await valueOf('CHAIR')]).toEqual(['800', '800'])
    expect((await refusalOf((tx) => cancelInvoice(tx, owner, invoice.id))).code).toBe('not-now')
    await balanced()
  })
  it('for a part at a time, the last part takes what rounding leaves; then the receipt cannot differ by a cent', async () => {
    const item = await make('PART')
    const { orderId, lineId } = await bought(item, '3', '0.33')
    for (const [number, amount] of [
      ['P-1', '0.34'],
      ['P-2', '0.34'],
      ['P-3', '0.34'],
    ] as const) {
      await inTransaction((tx) =>
        recordInvoice(tx, owner, orderId, {
          number,
          invoicedOn: '2026-10-05',
          lines: [{ lineId, quantity: typedQuantity('1'), unit: 'piece', amount }],
        }),
      )
    }
    expect(await valueOf('PART')).toBe('102')
    await balanced()
  })
  it('of goods at standard is a variance', async () => {
    const item = await make('STD', { costing: 'standard', standardCost: '5' })
    const { orderId, lineId } = await bought(item, '4', '5.50')
    expect(await valueOf('STD')).toBe('2000')
    const invoice = await inTransaction((tx) =>
      recordInvoice(tx, owner, orderId, {
        number: 'S-1',
        invoicedOn: '2026-10-05',
        lines: [{ lineId, quantity: typedQuantity('4'), unit: 'piece', amount: '23.00' }],
      }),
    )
    expect([await valueOf('STD'), invoice.revalued.find((entry) => entry.account === 'variance')!.amount]).toEqual([
      '2000',
      '100',
    ])
    await balanced()
  })
})

describe('what is entered for an earlier day', () => {
  it('re-values what followed, on the days on which it was; a closed day takes nothing', async () => {
    const item = await make('LATE', { costing: 'first in, first out' })
    await change(item, 'more', '10', { unitCost: '2', effectiveOn: '2026-09-10' })
    await change(item, 'less', '5', { effectiveOn: '2026-09-20' })
    const posted = await change(item, 'more', '4', { unitCost: '1', effectiveOn: '2026-09-05' })
    // 4 at 1.00 and 1 at 2.00 left on the 20th: 6.00 in place of 10.00
    expect(posted.revalued).toEqual([
      { account: 'bin', amount: '400' },
      { account: 'correction', amount: '-400' },
    ])
    const valueOn = async (day: string | null): Promise<string> =>
      (await stockValue('item', day)).find((row) => row.code === 'LATE')?.value ?? '0'
    expect([
      await valueOn('2026-09-04'),
      await valueOn('2026-09-05'),
      await valueOn('2026-09-10'),
      await valueOn('2026-09-20'),
      await valueOn(null),
    ]).toEqual(['0', '400', '2400', '1800', '1800'])
    expect(
      (
        await refusalOf((tx) =>
          correct(tx, owner, {
            itemId: item,
            binId: shelf,
            lot: '',
            direction: 'less',
            quantity: typedQuantity('1'),
            unit: 'piece',
            reason: 'sample',
            unitCost: '',
            expiresOn: null,
            effectiveOn: '2026-09-04',
          }),
        )
      ).detail,
    ).toContain('2026-09-04')
    expect(
      (
        await refusalOf((tx) =>
          correct(tx, owner, {
            itemId: item,
            binId: shelf,
            lot: '',
            direction: 'more',
            quantity: typedQuantity('1'),
            unit: 'piece',
            reason: 'found',
            unitCost: '',
            expiresOn: null,
            effectiveOn: '2026-10-06',
          }),
        )
      ).fields,
    ).toHaveProperty('effectiveOn')
    await inTransaction((tx) => closeBooks(tx, owner, '2026-09-15'))
    expect(
      (
        await refusalOf((tx) =>
          correct(tx, owner, {
            itemId: item,
            binId: shelf,
            lot: '',
            direction: 'more',
            quantity: typedQuantity('1'),
            unit: 'piece',
            reason: 'found',
            unitCost: '',
            expiresOn: null,
            effectiveOn: '2026-09-15',
          }),
        )
      ).fields!.effectiveOn,
    ).toContain('closed through 2026-09-15')
    expect((await refusalOf((tx) => closeBooks(tx, owner, '2026-10-05'))).fields).toHaveProperty('through')
    expect((await loadBookSettings()).closedThrough).toBe('2026-09-15')
    await balanced()
  })
  it('taken back after its day was closed, its difference falls on the first open day', async () => {
    const item = await idOf('items', 'LATE')
    const method = await inTransaction((tx) =>
      changeMethod(tx, owner, { itemIds: [item], method: 'last in, first out', standardCost: null }),
    )
    // LIFO: 5 of the 10 at 2.00 left on the 20th, 10.00; 4 at 1.00 and 5 at 2.00 stay
    expect(method.items).toMatchObject([{ code: 'LATE', before: '1800', after: '1400' }])
    const days = await rows<{ day: string }>(
      db,
      sql`select effective_on as day from adjustments where posting_id = ${method.postingId}`,
    )
    expect(days.map((row) => row.day)).toEqual(['2026-09-20'])
    await inTransaction((tx) => closeBooks(tx, owner, '2026-09-30'))
    const back = await inTransaction((tx) =>
      changeMethod(tx, owner, { itemIds: [item], method: 'first in, first out', standardCost: null }),
    )
    expect(
      (
        await rows<{ day: string }>(
          db,
          sql`select effective_on as day from adjustments where posting_id = ${back.postingId}`,
        )
      ).map((row) => row.day),
    ).toEqual(['2026-10-01'])
    await inTransaction((tx) => closeBooks(tx, owner, null))
    await balanced()
  })
})

describe('a change of method', () => {
  // In: 10 at 1.00, 10 at 2.00; out: 12.
  const EXPECTED: readonly (readonly [CostMethod, string])[] = [
    ['moving average', '1200'],
    ['first in, first out', '1600'],
    ['last in, first out', '800'],
    ['latest purchase', '1200'],
    ['standard', '1000'],
  ]
  it.each(EXPECTED)('to %s is shown before it is done: 8 left are worth %s cents', async (method, value) => {
    const code = `METHOD-${method.slice(0, 4).toUpperCase()}`
    const item = await make(code, { costing: method === 'moving average' ? 'first in, first out' : 'moving average' })
    await change(item, 'more', '10', { unitCost: '1', reason: 'opening stock' })
    await change(item, 'more', '10', { unitCost: '2' })
    await change(item, 'less', '12')
    const before = await valueOf(code)
    const edit = { itemIds: [item], method, standardCost: method === 'standard' ? '1.25' : null }
    const preview = await rehearse((tx) => changeMethod(tx, owner, edit))
    // Only the opening stock set a price: what was found came without a purchase, so the latest purchase is 1.00.
    const after = method === 'latest purchase' ? '800' : value
    expect([preview.items[0]!.before, preview.items[0]!.after, await valueOf(code)]).toEqual([before, after, before])
    await inTransaction((tx) => changeMethod(tx, owner, edit))
    expect(await valueOf(code)).toBe(after)
    await change(item, 'less', '8')
    expect(await valueOf(code)).toBe('0')
    await balanced()
  })
  it('asks for a standard cost, and refuses what is there already', async () => {
    const item = await make('ASK')
    expect(
      (await refusalOf((tx) => changeMethod(tx, owner, { itemIds: [item], method: 'standard', standardCost: null })))
        .fields,
    ).toEqual({ standardCost: 'ASK has no standard cost yet. Give one.' })
    expect(
      (
        await refusalOf((tx) =>
          changeMethod(tx, owner, { itemIds: [item], method: 'moving average', standardCost: null }),
        )
      ).fields,
    ).toHaveProperty('method')
  })
  it('cannot be made on the item’s page once stock has moved', async () => {
    const { id, version, ...definition } = await loadDefinition(db, 'items', await idOf('items', 'LATE'))
    const refusal = await refusalOf((tx) =>
      saveOne(tx, owner, shapeOf('items'), {
        id,
        version,
        definition: { ...definition, costing: 'standard', standardCost: '1' },
      }),
    )
    expect(refusal.fields).toEqual({
      costing:
        'Stock of this item has moved. Change how it is costed in Books, where you see first what it does to values.',
    })
  })
})

describe('a new standard cost', () => {
  it('re-values what is there from this morning; the difference is a variance; reversals still restore', async () => {
    const item = await make('NORM', { costing: 'standard', standardCost: '2' })
    await change(item, 'more', '10', { unitCost: '2.50' })
    expect(await valueOf('NORM')).toBe('2000')
    const less = await change(item, 'less', '4')
    const preview = await rehearse((tx) => changeStandard(tx, owner, { itemId: item, cost: '3' }))
    // Everything happened today, after the morning: 10 came in at 3.00 and 4 left at it.
    expect(preview.items).toMatchObject([{ before: '1200', after: '1800' }])
    await inTransaction((tx) => changeStandard(tx, owner, { itemId: item, cost: '3' }))
    expect(await valueOf('NORM')).toBe('1800')
    await inTransaction((tx) => reverse(tx, owner, less.postingId))
    expect([await valueOf('NORM'), await onHand('NORM')]).toEqual(['3000', '10'])
    await change(item, 'less', '1')
    expect(await valueOf('NORM')).toBe('2700')
    expect(
      (await refusalOf(async (tx) => changeStandard(tx, owner, { itemId: await idOf('items', 'LATE'), cost: '3' })))
        .fields,
    ).toHaveProperty('itemId')
    await balanced()
  })
  it('of goods that were there before stands in the journal of today', async () => {
    const item = await make('NORM-2', { costing: 'standard', standardCost: '2' })
    await change(item, 'more', '10', { unitCost: '2', effectiveOn: '2026-09-15' })
    const done = await inTransaction((tx) => changeStandard(tx, owner, { itemId: item, cost: '2.10' }))
    expect([
      await valueOf('NORM-2'),
      new Map(done.accounts.map((account) => [account.account, account.amount])),
    ]).toEqual([
      '2100',
      new Map([
        ['stock', '100'],
        ['variance', '-100'],
      ]),
    ])
    // Five more for the 20th come in at 2.00 and are re-valued this morning with the rest.
    await change(item, 'more', '5', { unitCost: '2', effectiveOn: '2026-09-20' })
    expect([
      await valueOf('NORM-2'),
      (await stockValue('item', '2026-10-04')).find((row) => row.code === 'NORM-2')!.value,
    ]).toEqual(['3150', '3000'])
    await balanced()
  })
})

describe('value', () => {
  it('by site, group and lot is the same sum, and on any day that of the journal', async () => {
    const total = (list: { value: string }[]): bigint => list.reduce((sum, row) => sum + BigInt(row.value), 0n)
    const all = total(await stockValue('item'))
    for (const by of ['site', 'group', 'lot'] as const) {
      expect(total(await stockValue(by))).toBe(all)
    }
    for (const day of ['2026-09-04', '2026-09-12', '2026-10-01', '2026-10-04']) {
      expect(total(await stockValue('lot', day)).toString()).toBe(
        (await accounts(day)).find((a) => a.account === 'stock')?.amount ?? '0',
      )
    }
  })
  it('the journal can be asked for by day, and balances act by act', async () => {
    const days = new Set((await journal(500, { from: '2026-09-01', until: '2026-09-30' })).map((row) => row.day))
    expect([...days].every((day) => day.startsWith('2026-09'))).toBe(true)
    expect(days.size).toBeGreaterThan(2)
  })
  it('limits are kept by role', async () => {
    await inTransaction((tx) => setLimits(tx, owner, { stockkeeper: '50', maker: '' }))
    expect((await loadBookSettings()).limits).toEqual({ stockkeeper: '5000' })
    expect((await refusalOf((tx) => setLimits(tx, owner, { cook: '1' }))).detail).toContain('no such role')
  })
  it('every balance equals the sum of its moves', async () => {
    expect(await checkLedger()).toEqual([])
  })
})
