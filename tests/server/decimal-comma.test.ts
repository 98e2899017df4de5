import { sql } from 'drizzle-orm'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity, type GivenQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { applyImport, openImport } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { importInto } from '~~/server/services/company/import-company'
import { createOrder } from '~~/server/services/demand/orders'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { changeForecast, createForecast } from '~~/server/services/demand/forecasts'
import { loadForecast } from '~~/server/services/demand/forecast-queries'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { transferAtOnce } from '~~/server/services/stock/transfers'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { ratio } from '~~/core/units/exact'
import { idOf, owner, refusalOf, withDemo } from './database'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

/** 9.125 of it: with a decimal comma typed as 9,125, and stored as 9.125, which would read as nine thousand. */
const metres = { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm', finestStep: '0.001' }

describe('in a company that writes a decimal comma', () => {
  beforeAll(() => rows(db, sql`update company set decimal_sign = ','`))
  afterAll(() => rows(db, sql`update company set decimal_sign = '.'`))

  it('what is carried over at once arrives as it left', async () => {
    const item = await make('COMMA-CARRY', metres)
    await open(item, '20', '1.00', { unit: 'm' })
    await inTransaction((tx) =>
      transferAtOnce(tx, owner, {
        fromSiteId: here.workshop,
        toSiteId: here.storeSite,
        leavesOn: '2026-10-05',
        dueOn: null,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('9,125'), unit: 'm', toBinId: here.store }],
      }),
    )
    expect((await balanceTexts(item)).map((text) => text.split(' ').at(-2)).sort()).toEqual(['10.875', '9.125'])
  })

  it('a company’s own files, which write a decimal point everywhere, mean what they say', async () => {
    const item = await make('COMMA-OPEN', metres)
    const lines = 'item,bin,quantity,unit,unit_cost\nCOMMA-OPEN,BENCH,9.125,m,1.00\n'
    await inTransaction((tx) => importInto(tx, owner, new Map([['opening-stock.csv', lines]])))
    expect((await balanceTexts(item)).map((text) => text.split(' ').at(-2))).toEqual(['9.125'])
  })

  it('a build is completed by what is left of it', async () => {
    const made = await make('COMMA-MADE', { ...metres, source: 'made' })
    const part = await make('COMMA-PART', metres)
    await open(part, '50', '1.00', { unit: 'm' })
    await inTransaction(async (tx) => {
      const [bill] = await rows<{ id: number }>(
        tx,
        sql`
          insert into boms (item_id, revision, name, from_on, batch_size, batch_unit)
          values (${made}, 1, '', '2026-01-01', 1, 'm')
          returning id`,
      )
      await rows(
        tx,
        sql`
          insert into bom_lines (bom_id, position, item_id, numerator, unit)
          values (${bill!.id}, 1, ${part}, 2, 'm')`,
      )
    })
    const build = await inTransaction((tx) =>
      createBuild(tx, owner, { itemId: made, quantity: typedQuantity('9,125'), unit: 'm', dueOn: '2026-10-09' }),
    )
    await inTransaction((tx) =>
      completeBuild(tx, owner, build.id, { version: 1, binId: here.shelf, lot: '', expiresOn: null }),
    )
    expect(await balanceTexts(made)).toEqual([expect.stringContaining(' 9.125 ')])
    // 50 − 2 × 9.125
    expect(await balanceTexts(part)).toEqual([expect.stringContaining(' 31.75 ')])
  })

  it('a file of orders is read once, with the comma', async () => {
    const item = await make('COMMA-FILE', { ...metres, price: '2' })
    const seen = await openImport(owner, {
      table: 'sales-orders',
      fileName: 'orders.csv',
      content: Buffer.from(
        'number;customer;due_on;item;quantity;unit;price\nEX-9125;LARK;2026-11-01;COMMA-FILE;9,125;m;2\n',
      ).toString('base64'),
    })
    expect(seen).toMatchObject({ faults: [], made: 1 })
    await inTransaction((tx) => applyImport(tx, owner, seen.id))
    const [order] = await rows<{ id: number }>(db, sql`select max(id)::int as id from sales_orders`)
    expect((await loadOrder(order!.id, owner.today)).lines).toMatchObject([{ itemId: item, quantity: '9.125' }])
  })

  it('an exact amount that one act gives another is taken as it is; text is read as it was typed', async () => {
    const item = await make('COMMA-GIVEN', { ...metres, price: '2' })
    const customerId = await idOf('customers', 'LARK')
    const line = { id: null, itemId: item, unit: 'm', price: '2' }
    const ordered = async (quantity: GivenQuantity): Promise<string> => {
      const made = await inTransaction((tx) =>
        createOrder(tx, owner, {
          customerId,
          orderedOn: '2026-10-05',
          dueOn: '2026-10-20',
          note: '',
          lines: [{ ...line, quantity }],
        }),
      )
      return (await loadOrder(made.id, owner.today)).lines[0]!.quantity
    }
    expect([
      await ordered(ratio('9.125')),
      await ordered(typedQuantity('9,125')),
      await ordered(typedQuantity('9.125')),
    ]).toEqual(['9.125', '9.125', '9125'])
  })

  it('a purchase order of exact amounts, as a plan releases it, keeps them and notes them', async () => {
    const item = await make('COMMA-BUY', metres)
    const [supplier] = await rows<{ id: number }>(db, sql`select id from suppliers order by id limit 1`)
    const made = await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId: supplier!.id,
        note: '',
        lines: [{ itemId: item, quantity: ratio('9.125'), unit: 'm', price: '1', dueOn: '2026-10-20' }],
      }),
    )
    expect(
      await rows(
        db,
        sql`select trim_scale(quantity)::text as quantity from purchase_lines where order_id = ${made.id}`,
      ),
    ).toEqual([{ quantity: '9.125' }])
  })

  it('a cell of a forecast is what the grid has read, and not read again', async () => {
    const item = await make('COMMA-CELL', metres)
    const made = await inTransaction((tx) =>
      createForecast(tx, owner, {
        name: 'With a comma',
        step: 'month',
        firstOn: '2026-11-01',
        lastOn: '2026-12-31',
        note: '',
      }),
    )
    const edit = (quantity: string, version: number) =>
      inTransaction((tx) =>
        changeForecast(tx, owner, made.id, {
          version,
          cells: [{ itemId: item, startsOn: '2026-11-01', quantity }],
        }),
      )
    await edit('9.125', 1)
    const [row] = (await loadForecast(made.id)).rows
    expect(row!.cells['2026-11-01']).toMatchObject({ quantity: '9.125' })
    expect((await refusalOf(() => edit('nine', 2))).code).toBe('invalid-input')
  })
})
