import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { loadItems } from '~~/server/services/catalogue/definitions/item-store'
import { applyImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction, once, rehearse } from '~~/server/database/transactions'
import { changeOrder, createOrder } from '~~/server/services/demand/orders'
import { loadOrder } from '~~/server/services/demand/order-queries'
import { promiseLines } from '~~/server/services/demand/promise'
import { fetchFromShop, listProducts, lookIntoShop, placeInShop } from '~~/server/services/demand/shop'
import { allocateMany } from '~~/server/services/dispatch/allocate-many'
import { allocate, deallocate } from '~~/server/services/dispatch/dispatch'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { ItemEdit } from '~~/shared/catalogue/item'
import { NewShopOrder, PromiseQuery } from '~~/shared/demand/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const has = { lark: 0, web: 0, supplier: 0 }
beforeAll(async () => {
  Object.assign(has, { lark: await idOf('customers', 'LARK'), web: await idOf('customers', 'WEB') })
  const [row] = await rows<{ id: number }>(
    db,
    sql`select id from suppliers where calendar_id is null order by id limit 1`,
  )
  has.supplier = row!.id
})
const terms = (leadDays: number) => ({
  terms: [
    {
      supplierId: has.supplier,
      rank: 1,
      supplierCode: '',
      unit: 'piece',
      price: '2',
      minimum: '0',
      multiple: '0',
      leadDays,
      tiers: [],
    },
  ],
})
const order = (itemId: number, quantity: string, dueOn: string, more: object = {}) =>
  inTransaction((tx) =>
    createOrder(tx, owner, {
      customerId: has.lark,
      dueOn,
      note: '',
      lines: [{ id: null, itemId, quantity: typedQuantity(quantity), unit: 'piece', price: '1' }],
      ...more,
    }),
  )
const promise = (itemId: number, quantity: string, orderId: number | null = null) =>
  promiseLines(
    PromiseQuery.parse({ orderId, lines: [{ itemId, quantity: typedQuantity(quantity), unit: 'piece' }] }),
    owner.today,
  )
const open_ = (text: string, name = 'orders.csv') =>
  openImport(owner, { table: 'sales-orders', fileName: name, content: Buffer.from(text).toString('base64') })

describe('a promise', () => {
  it('counts what is free, what comes and what can be bought; by hand', async () => {
    const item = await make('P-BOUGHT', terms(12))
    await open(item, '10', '1.00')
    await order(item, '4', '2026-11-20')
    // 10 there, 4 of them promised: 6 are free today.
    expect(await promise(item, '6')).toMatchObject({
      on: '2026-10-05',
      lines: [{ on: '2026-10-05', missing: '0', options: [{ kind: 'free', text: '6 pc P-BOUGHT: free now.' }] }],
    })
    // 2 more: bought today at 12 working days, Wednesday 21 October.
    expect(await promise(item, '8')).toMatchObject({
      on: '2026-10-21',
      lines: [
        {
          missing: '2',
          options: [
            { kind: 'free' },
            { kind: 'buy', text: '2 pc P-BOUGHT: bought today, here on 21 Oct (12 working days).' },
          ],
        },
      ],
    })
    await inTransaction((tx) =>
      createPurchase(tx, owner, {
        supplierId: has.supplier,
        note: '',
        lines: [{ itemId: item, quantity: typedQuantity('5'), unit: 'piece', price: '2', dueOn: '2026-10-09' }],
      }),
    )
    // Those 5 serve the 4 of November: all 10 are free today, one more with the purchase order.
    expect(await promise(item, '10')).toMatchObject({ on: '2026-10-05' })
    expect(await promise(item, '11')).toMatchObject({
      on: '2026-10-09',
      lines: [
        {
          missing: '0',
          options: [
            { kind: 'free' },
            {
              kind: 'coming',
              text: expect.stringMatching(/^1 pc P-BOUGHT: free from 9 Oct on, with PO-\d+\.$/) as string,
            },
          ],
        },
      ],
    })
  })
  it('does not count an order against itself, and takes what is set aside for it as there', async () => {
    const item = await make('P-OWN', terms(3))
    await open(item, '5', '1.00')
    const { id } = await order(item, '5', '2026-10-30')
    expect(await promise(item, '5')).toMatchObject({ on: '2026-10-08' })
    expect(await promise(item, '5', id)).toMatchObject({ on: '2026-10-05' })
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    expect(await promise(item, '5', id)).toMatchObject({ on: '2026-10-05', lines: [{ missing: '0', options: [] }] })
  })
  it('names substitutes by rank and other sites, and says where there is no way', async () => {
    const [entry, two, three] = [await make('P-ONE', { source: 'bought' }), await make('P-TWO'), await make('P-THREE')]
    await open(two, '7', '1.00')
    const [stored] = await inTransaction((tx) => loadItems(tx, [entry]))
    await inTransaction((tx) => {
      const { id, version, ...item } = stored!
      return saveOne(tx, owner, shapeOf('items'), {
        id,
        version,
        definition: ItemEdit.parse({
          ...item,
          substitutes: [
            { itemId: three, rank: 2, per: '1', bothWays: false },
            { itemId: two, rank: 1, per: '2', bothWays: false },
          ],
        }),
      })
    })
    expect(await promise(entry, '1')).toMatchObject({
      on: null,
      lines: [
        {
          on: null,
          options: [{ kind: 'none', text: '1 pc P-ONE: there is no way to get it (no source).' }],
          substitutes: [
            { code: 'P-TWO', per: '2', free: '7 pc' },
            { code: 'P-THREE', free: '0 pc' },
          ],
        },
      ],
    })
    expect((await promise(two, '1')).lines[0]!.sites).toEqual([{ site: 'Workshop', free: '7 pc' }])
    await expect(promise(entry, 'lots')).rejects.toMatchObject({
      fields: { 'lines.0.quantity': expect.stringContaining('no number') as string },
    })
    await expect(promise(999_999, '1')).rejects.toMatchObject({ fields: { 'lines.0.itemId': 'Choose an item.' } })
  })
  it('of the demo’s navy notebooks: 4 there, 20 built once the cloth is bought', async () => {
    const answer = await loadOrder(1, owner.today).then((found) =>
      promiseLines(
        PromiseQuery.parse({
          orderId: 1,
          lines: found.lines.map((line) => ({
            itemId: line.itemId,
            quantity: typedQuantity(line.entered),
            unit: line.unit,
          })),
        }),
        owner.today,
      ),
    )
    // Cloth 10 working days from Monday 5 Oct: Monday 19 Oct; the case 3 days, Thursday 22; the book 2 days, Monday 26.
    expect(answer).toMatchObject({
      on: '2026-10-26',
      lines: [
        {
          options: [
            { kind: 'free', text: '4 pc NB-A5-NAVY: free now.' },
            {
              kind: 'make',
              text: '20 pc NB-A5-NAVY: built from 22 Oct on, when all of what it needs is there, ready on 26 Oct (2 working days).',
            },
          ],
        },
      ],
    })
  })
})

describe('sales orders from a file', () => {
  const count = async (): Promise<number> =>
    (await rows<{ n: number }>(db, sql`select count(*)::int as n from sales_orders`))[0]!.n
  it('tell every fault at its line and column; nothing is entered', async () => {
    const before = await count()
    const seen = await open_(
      'order,customer,due,item,quantity,unit,price\nA-1,NOBODY,2026-11-01,BONE,2,piece,5\nA-1,NOBODY,2026-11-02,BONE,2,piece,5\nA-2,LARK,soon,BONE,2,piece,5\nA-3,LARK,2026-11-01,NO-SUCH,2,piece,5\nA-4,LARK,2026-11-01,BONE,many,piece,5\nA-5,LARK,2026-11-01,BONE,2,firkin,5\nA-6,LARK,2026-11-01,BONE,2,piece,cheap\nSO-0201,LARK,2026-11-01,BONE,2,piece,5\n',
    )
    expect(seen.faults.map((fault) => `${fault.line} ${fault.column}: ${fault.detail}`)).toEqual([
      '2 customer: There is no customer “NOBODY”.',
      '3 due: The order says 2026-11-01 in line 2. Lines of one order have one day that it is due.',
      '4 due: “soon” is no date. Write it as year-month-day, for example 2026-10-05.',
      '5 item: There is no item “NO-SUCH”.',
      expect.stringMatching(/^6 quantity: “many” is no number/),
      '7 unit: There is no unit “firkin”.',
      '8 price: “cheap” is no price. Write for example 12.50.',
      '9 order: There is an order SO-0201 already.',
    ])
    await expect(inTransaction((tx) => applyImport(tx, owner, seen.id))).rejects.toMatchObject({
      code: 'invalid-input',
    })
    expect(await count()).toBe(before)
  })
  it('lines of one number are one order; units, prices and sites are filled in by the rules; taken back until something is done', async () => {
    const before = await count()
    const seen = await open_(
      'number,customer,due_on,item,quantity,unit,price,site,priority,note\nEX-77,LARK,2026-11-01,NB-A5-NAVY,2,,,STORE,5,by van\nEX-77,LARK,,BONE,3,piece,4.50,,,\n,WEB,2.11.2026,WS-1007,1,,,,,\n',
    )
    expect(seen).toMatchObject({ faults: [], made: 2 })
    await inTransaction((tx) => applyImport(tx, owner, seen.id))
    expect(await count()).toBe(before + 2)
    const [first, second] = await rows<{ id: number; number: string }>(
      db,
      sql`select id, number from sales_orders order by id desc limit 2`,
    )
    // LARK's price list says 21.00 for a navy notebook; the web shop pays what it costs, by the shop's own code.
    expect(await loadOrder(second!.id, owner.today)).toMatchObject({
      number: 'EX-77',
      customer: 'Larkhill Books',
      dueOn: '2026-11-01',
      site: 'Store in Mill Lane',
      priority: 5,
      note: 'by van',
      lines: [
        { code: 'NB-A5-NAVY', quantity: '2', price: '21.00' },
        { code: 'BONE', quantity: '3', price: '4.50' },
      ],
    })
    expect(await loadOrder(first!.id, owner.today)).toMatchObject({
      customer: 'Web shop',
      dueOn: '2026-11-02',
      lines: [{ code: 'NB-A5-RED', price: '24.00' }],
    })
    expect((await open_('number,customer,due_on,item,quantity\nEX-77,LARK,2026-11-01,BONE,1\n')).faults).toMatchObject([
      { detail: 'There is an order EX-77 already.' },
    ])
    await inTransaction((tx) => allocate(tx, owner, second!.id, 1))
    expect((await refusalOf((tx) => takeBack(tx, owner, seen.id))).detail).toContain('Something was done for EX-77')
    await inTransaction((tx) => deallocate(tx, owner, second!.id, 2))
    await inTransaction((tx) => takeBack(tx, owner, seen.id))
    expect(await count()).toBe(before)
  })
  it('as JSON; what is no list of orders is told', async () => {
    const seen = await open_(
      JSON.stringify([
        {
          customer: 'LARK',
          due_on: '2026-11-05',
          lines: [
            { item: 'BONE', quantity: 2 },
            { item: 'AWL', quantity: 1, price: 7 },
          ],
        },
        { customer: 'FERN', due_on: '2026-11-06', lines: [{ item: 'WAX', quantity: '0.5' }] },
      ]),
      'orders.json',
    )
    expect(seen.faults).toMatchObject([{ line: 3, detail: expect.stringContaining('finest step') as string }])
    await expect(open_('{"a": 1}', 'orders.json')).rejects.toMatchObject({
      detail: expect.stringContaining('no list of orders') as string,
    })
  })
})

describe('allocation for all', () => {
  it('serves what is due soonest, or the highest priority first; a look changes nothing', async () => {
    const item = await make('A-FEW')
    await open(item, '10', '1.00')
    const [late, soon] = [await order(item, '8', '2026-12-20', { priority: 9 }), await order(item, '6', '2026-12-01')]
    const mine = (found: Awaited<ReturnType<typeof allocateMany>>) =>
      found.orders
        .filter((order) => [late.id, soon.id].includes(order.id))
        .map((order) => [order.number, order.lines[0]!.quantity, order.lines[0]!.missing])
    expect(mine(await rehearse((tx) => allocateMany(tx, owner, 'due date', null)))).toEqual([
      [soon.number, '6', '0'],
      [late.number, '4', '4'],
    ])
    expect(mine(await rehearse((tx) => allocateMany(tx, owner, 'priority', null)))).toEqual([
      [late.number, '8', '0'],
      [soon.number, '2', '4'],
    ])
    expect(mine(await rehearse((tx) => allocateMany(tx, owner, 'due date', '2026-12-01')))).toEqual([
      [soon.number, '6', '0'],
    ])
    expect((await loadOrder(soon.id, owner.today)).lines[0]!.allocated).toBe('0')
    await inTransaction((tx) => allocateMany(tx, owner, 'priority', '2026-12-31'))
    expect([
      (await loadOrder(late.id, owner.today)).lines[0]!.allocated,
      (await loadOrder(soon.id, owner.today)).lines[0]!.allocated,
    ]).toEqual(['8', '2'])
    // Nothing is left for either: they are passed over.
    expect(mine(await rehearse((tx) => allocateMany(tx, owner, 'due date', null)))).toEqual([])
  })
})

describe('the web shop', () => {
  const place = (lines: object[], email = 'someone@far.example') =>
    inTransaction((tx) => placeInShop(tx, owner, NewShopOrder.parse({ buyer: 'Some One', email, lines })))
  it('sells by its own codes; an order is fetched once, for the customer with that address or the shop itself', async () => {
    expect((await listProducts()).find((product) => product.code === 'WS-1006')).toMatchObject({
      name: 'Notebook A5 navy',
      price: '24',
    })
    const [entry, two] = [
      await place([
        { code: 'WS-1006', quantity: 2, price: '24' },
        { code: 'BONE', quantity: 1, price: '5.20' },
      ]),
      await place([{ code: 'WS-2001', quantity: 1, price: '34' }], 'ORDERS@lark.example'),
    ]
    expect((await lookIntoShop()).filter((seen) => seen.number === entry.number)).toMatchObject([
      {
        buyer: 'Some One',
        total: '53.20',
        fault: null,
        taken: null,
        lines: [{ item: 'NB-A5-NAVY' }, { item: 'BONE' }],
      },
    ])
    const key = crypto.randomUUID()
    const done = await once(owner, key, (tx) => fetchFromShop(tx, owner, [entry.number, two.number]))
    expect(await once(owner, key, (tx) => fetchFromShop(tx, owner, [entry.number, two.number]))).toEqual(done)
    const loaded = await Promise.all(done.orders.map((made) => loadOrder(made.id, owner.today)))
    expect(
      loaded
        .map((made) => [
          made.outsideRef,
          made.customer,
          made.lines.map((line) => `${line.entered} ${line.code} ${line.price}`).join(', '),
        ])
        .sort(),
    ).toEqual([
      [entry.number, 'Web shop', '2 NB-A5-NAVY 24, 1 BONE 5.20'],
      [two.number, 'Larkhill Books', '1 KIT-FIRST 34'],
    ])
    expect((await refusalOf((tx) => fetchFromShop(tx, owner, [entry.number]))).detail).toContain('was fetched already')
    expect((await lookIntoShop()).find((seen) => seen.number === entry.number)!.taken?.number).toMatch(/^SO-/)
  })
  it('a code that nobody knows stops that order and says what to do', async () => {
    const odd = await place([{ code: 'WS-9999', quantity: 1, price: '1' }])
    expect((await lookIntoShop()).find((seen) => seen.number === odd.number)).toMatchObject({
      fault: 'WS-9999: no item has this code. Add it to the item’s other codes, then fetch again.',
    })
    expect((await refusalOf((tx) => fetchFromShop(tx, owner, [odd.number]))).detail).toContain('WS-9999')
    expect((await refusalOf((tx) => fetchFromShop(tx, owner, ['WEB-9999']))).code).toBe('not-now')
  })
})

it('an order keeps its site and priority when they are not said', async () => {
  const item = await make('O-KEEP')
  const { id } = await order(item, '1', '2026-11-01', { priority: 3, siteId: await idOf('sites', 'STORE') })
  const loaded = await loadOrder(id, owner.today)
  await inTransaction((tx) =>
    changeOrder(tx, owner, id, {
      version: 1,
      dueOn: '2026-11-02',
      note: '',
      lines: loaded.lines.map((line) => ({
        id: line.id,
        itemId: line.itemId,
        quantity: typedQuantity(line.entered),
        unit: line.unit,
        price: line.price,
      })),
    }),
  )
  expect(await loadOrder(id, owner.today)).toMatchObject({
    dueOn: '2026-11-02',
    priority: 3,
    site: 'Store in Mill Lane',
  })
})
