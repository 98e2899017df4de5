import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows, type Tx } from '~~/server/database/client'
import { changeItem, createItem, loadItem } from '~~/server/services/catalogue/items'
import { inTransaction } from '~~/server/database/transactions'
import { importInto } from '~~/server/services/company/import-company'
import { createOrder, changeOrder } from '~~/server/services/demand/orders'
import { allocate, deallocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { correct } from '~~/server/services/stock/correct'
import { createBuild } from '~~/server/services/workshop/builds'
import { input } from '~~/server/utils/route'
import { Refusal } from '~~/server/utils/refusal'
import { ItemEdit } from '~~/shared/catalogue/item'
import { NewSalesOrder } from '~~/shared/demand/requests'
import { idOf, onHand, owner, refusalOf, withDemo } from './database'

withDemo()
const ids: Record<string, number> = {}
beforeAll(async () => {
  for (const code of ['BONE', 'CLOTH-OCHRE', 'RIBBON-OLD', 'NB-A5-RED', 'CLOTH-NAVY', 'GLUE-TUB', 'KIT-FIRST', 'AWL']) {
    ids[code] = await idOf('items', code)
  }
})
const line = (code: string, quantity: string, unit: string) => ({
  id: null,
  itemId: ids[code]!,
  quantity: typedQuantity(quantity),
  unit,
  price: '1',
})
const totals = async (): Promise<string> =>
  JSON.stringify(
    await rows(
      db,
      sql`
        select
          (select count(*) from sales_orders) as o, (select count(*) from sales_lines) as l,
          (select count(*) from moves) as m, (select count(*) from changes) as c,
          (select count(*) from items) as i, (select count(*) from lots) as t`,
    ),
  )

describe('a wrong line refuses the whole order', () => {
  it.each<[string, string, string, string]>([
    ['BONE', '0', 'piece', 'greater than zero'],
    ['BONE', '-1', 'piece', 'greater than zero'],
    ['BONE', 'five', 'piece', '“five” is no number'],
    ['BONE', '2 crate', 'piece', '“crate” is not a unit of this item'],
    ['BONE', '2', 'wheelbarrow', 'There is no unit “wheelbarrow”'],
    ['BONE', '2', 'kg', 'Nothing says how kilogram relates to piece. Add a pack or a bridge'],
    ['CLOTH-OCHRE', '1', 'm', 'is retired'],
    ['BONE', '0.2', 'piece', 'less than the finest step'],
  ])('%s %s %s', async (code, quantity, unit, sentence) => {
    const before = await totals()
    const refusal = await refusalOf(async (tx) =>
      createOrder(tx, owner, {
        customerId: 1,
        dueOn: '2026-10-20',
        note: '',
        lines: [line('AWL', '1', 'piece'), line(code, quantity, unit)],
      }),
    )
    expect(
      Object.entries(refusal.fields ?? {})
        .map(([field, text]) => `${field}: ${text}`)
        .join(),
    ).toMatch(/^lines\.1\.(quantity|itemId)/)
    expect(refusal.detail).toContain(sentence)
    expect(await totals()).toBe(before)
  })
  it('what is no longer bought may be sold but not bought', async () => {
    await inTransaction((tx) =>
      createOrder(tx, owner, { customerId: 1, dueOn: '2026-10-20', note: '', lines: [line('RIBBON-OLD', '2', 'm')] }),
    )
    const refusal = await refusalOf((tx) =>
      createPurchase(tx, owner, {
        supplierId: 1,
        note: '',
        lines: [
          { itemId: ids['RIBBON-OLD']!, quantity: typedQuantity('1'), unit: 'reel', price: '1', dueOn: '2026-10-20' },
        ],
      }),
    )
    expect(refusal.detail).toContain('no longer bought')
  })
})

describe('what comes in is checked', () => {
  const order = {
    key: '5b1c1f5e-52a9-4c8a-9d0b-0f4a8d8f7a11',
    customerId: 1,
    dueOn: '2026-10-20',
    lines: [{ itemId: 1, quantity: typedQuantity('1'), unit: 'piece' }],
  }
  it.each<[string, object, string, string]>([
    [
      'a date that is none',
      { dueOn: '2026-02-30' },
      'dueOn',
      '“2026-02-30” is no date. Write it as year-month-day, for example 2026-10-05.',
    ],
    [
      'a date in words',
      { dueOn: 'tomorrow' },
      'dueOn',
      '“tomorrow” is no date. Write it as year-month-day, for example 2026-10-05.',
    ],
    ['no lines', { lines: [] }, 'lines', 'Add at least one line.'],
    ['no customer', { customerId: null }, 'customerId', 'Choose one.'],
    [
      'a price in words',
      { lines: [{ itemId: 1, quantity: typedQuantity('1'), unit: 'piece', price: 'cheap' }] },
      'lines.0.price',
      'Write a price such as 12.50.',
    ],
    ['no key', { key: 'x' }, 'key', 'The act has no valid key; reload the page.'],
  ])('%s', (_, change, field, sentence) => {
    let refusal: unknown
    try {
      input(NewSalesOrder, { ...order, ...change })
    } catch (error) {
      refusal = error
    }
    expect((refusal as Refusal).fields?.[field]).toBe(sentence)
    expect((refusal as Refusal).problem).toMatchObject({ status: 400, type: 'urn:tsumiki:invalid-input' })
  })
})

describe('items', () => {
  const edit = (change: object) =>
    ItemEdit.parse({
      code: 'X-1',
      name: 'X',
      groupId: 1,
      stockUnit: 'kg',
      buyingUnit: 'kg',
      sellingUnit: 'kg',
      finestStep: '0.001',
      ...change,
    })
  it.each<[string, object, string, string]>([
    ['a code that is taken', { code: 'BONE' }, 'code', 'The code BONE is taken. Choose another.'],
    [
      'a buying unit without a bridge',
      { buyingUnit: 'L' },
      'buyingUnit',
      'Nothing says how litre relates to kilogram. Add a pack or a bridge between them on the item.',
    ],
    [
      'a contradiction',
      {
        relations: [
          { unit: 'bag', per: '25', ofUnit: 'kg' },
          { unit: 'bag', per: '24000', ofUnit: 'g' },
        ],
      },
      'relations.1.per',
      '1 bag = 24000 gram contradicts the path bag → kilogram → gram, by which it is 25000 gram.',
    ],
  ])('refuse %s', async (_, change, field, sentence) => {
    const before = await totals()
    expect((await refusalOf((tx) => createItem(tx, owner, edit(change)))).fields?.[field]).toBe(sentence)
    expect(await totals()).toBe(before)
  })
  it('keep stock unit and tracking once stock has moved, and a step that 1.2 m fall on; a finer step may come', async () => {
    const cloth = await loadItem(ids['CLOTH-NAVY']!)
    const change = (tx: Tx, fields: object) =>
      changeItem(
        tx,
        owner,
        { id: cloth.id, version: cloth.version, definition: ItemEdit.parse({ ...cloth, ...fields }) },
        { confirmed: true },
      )
    const refusal = await refusalOf((tx) => change(tx, { stockUnit: 'cm', tracking: 'none', finestStep: '0.7' }))
    expect(Object.keys(refusal.fields ?? {})).toEqual(['stockUnit', 'tracking', 'finestStep'])
    await inTransaction((tx) => change(tx, { finestStep: '0.005' }))
    const stale = await refusalOf((tx) => change(tx, { name: 'Late' }))
    expect(stale).toMatchObject({
      code: 'stale-version',
      detail: expect.stringMatching(/Ines Hartwell changed .*finest step/) as string,
    })
  })
})

describe('lots', () => {
  const edit = (change: object) => ({
    itemId: ids['CLOTH-NAVY']!,
    binId: 0,
    lot: '',
    direction: 'more' as const,
    quantity: typedQuantity('1'),
    unit: 'm',
    reason: 'found' as const,
    unitCost: '',
    expiresOn: null,
    ...change,
  })
  it('a tracked item wants its lot', async () => {
    const binId = await idOf('places', 'RACK')
    expect((await refusalOf((tx) => correct(tx, owner, edit({ binId })))).fields?.lot).toBe(
      'CLOTH-NAVY is tracked by lot. Give the lot number from the label.',
    )
    expect(
      (await refusalOf((tx) => correct(tx, owner, edit({ binId, direction: 'less', lot: 'N-9' })))).fields?.lot,
    ).toBe('There is no lot N-9 of CLOTH-NAVY.')
  })
  it('the same lot number with another expiry date is refused', async () => {
    const binId = await idOf('places', 'COOL')
    const refusal = await refusalOf((tx) =>
      correct(tx, owner, edit({ itemId: ids['GLUE-TUB'], binId, unit: 'tub', lot: 'S-6608', expiresOn: '2027-01-01' })),
    )
    expect(refusal.fields?.expiresOn).toContain('already here with the expiry date 2026-12-10')
  })
})

describe('allocation and shipment', () => {
  it('what is allocated binds the order, and can be given back', async () => {
    const { id } = await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId: 1,
        dueOn: '2026-10-20',
        note: '',
        lines: [{ ...line('NB-A5-RED', '10', 'piece'), price: '21' }],
      }),
    )
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    const [mine] = await rows<{ id: number }>(db, sql`select id from sales_lines where order_id = ${id}`)
    const smaller = await refusalOf((tx) =>
      changeOrder(tx, owner, id, {
        version: 2,
        dueOn: '2026-10-20',
        note: '',
        lines: [{ ...line('NB-A5-RED', '9', 'piece'), price: '21', id: mine!.id }],
      }),
    )
    expect(smaller.fields?.['lines.0.quantity']).toContain('10 of NB-A5-RED is allocated or shipped already')
    const second = await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId: 2,
        dueOn: '2026-10-20',
        note: '',
        lines: [{ ...line('NB-A5-RED', '6', 'piece'), price: '21' }],
      }),
    )
    expect((await inTransaction((tx) => allocate(tx, owner, second.id, 1))).lines).toEqual([
      { code: 'NB-A5-RED', quantity: '4', missing: '2', symbol: 'pc' },
    ])
    expect((await refusalOf((tx) => allocate(tx, owner, second.id, 2))).detail).toContain('2 pc NB-A5-RED missing')
    await inTransaction((tx) => deallocate(tx, owner, id, 2))
    expect((await refusalOf((tx) => ship(tx, owner, id, 3))).detail).toContain('Nothing is allocated')
    const shipped = await inTransaction((tx) => ship(tx, owner, second.id, 2))
    expect([shipped.done, await onHand('NB-A5-RED')]).toEqual([false, '10'])
    expect((await refusalOf((tx) => ship(tx, owner, second.id, 2))).code).toBe('stale-version')
  })
})

describe('builds', () => {
  it('an item without a bill is refused beside its field', async () => {
    const refusal = await refusalOf((tx) =>
      createBuild(tx, owner, { itemId: ids.AWL!, quantity: typedQuantity('1'), unit: 'piece', dueOn: '2026-10-20' }),
    )
    expect(refusal.fields?.itemId).toBe('AWL has no bill of materials in use. Write one on its page.')
  })
})

describe('import', () => {
  it.each<[string, Record<string, string>, string]>([
    [
      'an unknown component',
      { 'bill-lines.csv': 'item,component,quantity,unit\nNB-A5-RED,NOPE,1,piece\n' },
      'bill-lines.csv line 2, component: There is no item “NOPE”.',
    ],
    [
      'a broken number',
      { 'opening-stock.csv': 'item,bin,quantity,unit\nAWL,SHELF-A,3,piece\nBONE,SHELF-A,x3,piece\n' },
      'opening-stock.csv line 3: BONE: “x3” is no number.',
    ],
    [
      'a place that is none',
      { 'opening-stock.csv': 'item,bin,quantity,unit\nAWL,ATTIC,3,piece\n' },
      'opening-stock.csv line 2: There is no bin “ATTIC”.',
    ],
    [
      'a date that is none',
      { 'items.csv': 'code,name,group,stock_unit,finest_step\nZ-1,Z,TOOLS,piece,none\n' },
      'items.csv line 2, finest_step: Write the smallest quantity to record, for example 0.001.',
    ],
  ])('%s is told with its file and line, and nothing is kept', async (_, files, sentence) => {
    const before = await totals()
    expect((await refusalOf((tx) => importInto(tx, owner, new Map(Object.entries(files))))).detail).toContain(sentence)
    expect(await totals()).toBe(before)
  })
})

describe('a company that writes a decimal comma', () => {
  it('has 1,5 and 1.250,5 read as it means them, and 1.5 refused', async () => {
    const itemId = await idOf('items', 'HEADBAND')
    const binId = await idOf('places', 'BENCH')
    const edit = (quantity: string) => ({
      itemId,
      binId,
      lot: '',
      direction: 'more' as const,
      quantity: typedQuantity(quantity),
      unit: 'm',
      reason: 'found' as const,
      unitCost: '',
      expiresOn: null,
    })
    const before = Number(await onHand('HEADBAND'))
    await rows(db, sql`update company set decimal_sign = ','`)
    await inTransaction((tx) => correct(tx, owner, edit('1,5')))
    await inTransaction((tx) => correct(tx, owner, edit('1.250,5')))
    expect(Number(await onHand('HEADBAND'))).toBeCloseTo(before + 1252, 6)
    expect((await refusalOf((tx) => correct(tx, owner, edit('1.5')))).fields?.quantity).toBe(
      '“1.5” is written with a decimal point; here it is a comma: 1,5.',
    )
    await rows(db, sql`update company set decimal_sign = '.'`)
  })
})
