import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { createOrder } from '~~/server/services/demand/orders'
import { decide } from '~~/server/services/inspection/decide'
import { createPlan } from '~~/server/services/inspection/plans'
import { buyingNeeds } from '~~/server/services/purchasing/buying/buying-needs'
import { offersFor } from '~~/server/services/purchasing/buying/offers'
import { orderNeeds } from '~~/server/services/purchasing/buying/order-needs'
import { dropWant, noteWant } from '~~/server/services/purchasing/buying/wants'
import { changePurchase } from '~~/server/services/purchasing/change-purchase'
import { cancelPurchase } from '~~/server/services/purchasing/end-purchase'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { InspectionPlanEdit } from '~~/shared/inspection/requests'
import type { NewWant, OrderNeeds } from '~~/shared/purchasing/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { ownSuppliers, sound } from './purchase-helpers'
import { here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let first = 0
let second = 0
beforeAll(async () => {
  ;[first = 0, second = 0] = await ownSuppliers()
})

/** An item that both suppliers sell: the first from 20 on, cheaper from 100 on; the second sooner and dearer. */
const sold = (code: string) =>
  make(code, {
    source: 'bought',
    terms: [
      {
        supplierId: first,
        unit: 'piece',
        price: '0.25',
        minimum: '20',
        multiple: '0',
        leadDays: 10,
        tiers: [{ fromQuantity: '100', price: '0.20', fromOn: null, untilOn: null }],
      },
      { supplierId: second, unit: 'piece', price: '0.40', minimum: '0', multiple: '5', leadDays: 2, tiers: [] },
    ],
  })
const noted = (itemId: number, quantity: string, more: Partial<NewWant> = {}) =>
  inTransaction((tx) =>
    noteWant(tx, owner, {
      itemId,
      quantity: typedQuantity(quantity),
      unit: 'piece',
      neededOn: '2026-10-30',
      siteId: null,
      note: '',
      salesLineId: null,
      ...more,
    }),
  )
const needsOf = async (itemId: number) => (await buyingNeeds(owner)).needs.filter((need) => need.itemId === itemId)
const ordered = (line: Partial<OrderNeeds['lines'][number]> & { itemId: number }, more: Partial<OrderNeeds> = {}) =>
  inTransaction((tx) =>
    orderNeeds(tx, owner, {
      onDrafts: false,
      orderId: null,
      ...more,
      lines: [
        {
          quantity: typedQuantity('10'),
          unit: 'piece',
          price: '0.40',
          dueOn: '2026-10-30',
          supplierId: second,
          siteId: null,
          wantId: null,
          ...line,
        },
      ],
    }),
  )

describe('what suppliers ask, side by side', () => {
  /* By hand: 88 at 0.25 are 22.00; 100 at 0.20 are 20.00, 2.00 less. 88 in steps of 5 are 90, at 0.40 36.00. */
  it('is by minimum, steps, tiers and lead time; the next price is told', async () => {
    const item = await sold('BL-OFFERS')
    const [cheap, soon] = await offersFor(
      db,
      { itemId: item, quantity: typedQuantity('88'), unit: 'piece' },
      owner.today,
    )
    expect(cheap).toMatchObject({ supplierId: first, quantity: '88', price: '0.25', total: '2200', leadDays: 10 })
    expect(cheap!.next).toEqual({ more: '12', price: '0.2', saves: '200' })
    expect(soon).toMatchObject({
      supplierId: second,
      wanted: '88',
      quantity: '90',
      price: '0.4',
      total: '3600',
      next: null,
    })
    expect(soon!.arrivesOn < cheap!.arrivesOn).toBe(true)
    const [least] = await offersFor(db, { itemId: item, quantity: typedQuantity('7'), unit: 'piece' }, owner.today)
    expect(least).toMatchObject({ wanted: '7', quantity: '20', total: '500' })
  })

  it('proposes the cheapest in time, else the soonest', async () => {
    const item = await sold('BL-PROPOSED')
    await noted(item, '30', { neededOn: '2026-11-30' })
    await noted(item, '30', { neededOn: '2026-10-08' })
    expect((await needsOf(item)).map(({ neededOn, supplierId }) => [neededOn, supplierId]).sort()).toEqual([
      ['2026-10-08', second],
      ['2026-11-30', first],
    ])
  })

  it('is told of what the plan proposes, too', async () => {
    const { needs, suppliers } = await buyingNeeds(owner)
    for (const { offers, supplierId } of needs.filter(({ kind }) => kind !== 'noted')) {
      expect(offers.length === 0 || offers.some((offer) => offer.supplierId === supplierId)).toBe(true)
    }
    expect(suppliers.every(({ rate }) => Number(rate) > 0)).toBe(true)
  })
})

describe('what is on the list', () => {
  it('leaves it once it is ordered, and comes back with a cancelled order', async () => {
    const item = await sold('BL-LEAVES')
    const { id: wantId } = await noted(item, '10', { note: 'more pencils' })
    expect(await needsOf(item)).toMatchObject([
      { kind: 'noted', why: 'more pencils, Ines Hartwell', quantity: '10', wantId },
    ])
    const { orders } = await ordered({ itemId: item, wantId })
    expect(orders).toMatchObject([{ isNew: true }])
    expect(await needsOf(item)).toEqual([])
    expect((await refusalOf(() => ordered({ itemId: item, wantId }))).detail).toMatch(/^BL-LEAVES is on PO-\d+ already/)
    await inTransaction((tx) => cancelPurchase(tx, owner, orders[0]!.id, { version: 1 }))
    expect(await needsOf(item)).toHaveLength(1)
    await ordered({ itemId: item, wantId })
    expect((await refusalOf((tx) => dropWant(tx, owner, wantId))).detail).toBe('This is ordered already.')
  })

  it('comes back where its line is taken off the order', async () => {
    const item = await sold('BL-BACK')
    const { id: wantId } = await noted(item, '10')
    const { orders } = await ordered({ itemId: item, wantId })
    expect(await needsOf(item)).toEqual([])
    const other = await sold('BL-INSTEAD')
    await inTransaction((tx) =>
      changePurchase(tx, owner, orders[0]!.id, {
        version: 1,
        note: '',
        paymentTerms: '',
        deliveryTerms: '',
        lines: [
          { id: null, itemId: other, quantity: typedQuantity('1'), unit: 'piece', price: '1', dueOn: '2026-10-30' },
        ],
      }),
    )
    expect(await needsOf(item)).toMatchObject([{ wantId, quantity: '10' }])
    await ordered({ itemId: item, wantId })
    expect(await needsOf(item)).toEqual([])
  })

  it('is taken off when nobody needs it', async () => {
    const item = await sold('BL-DROPPED')
    const { id } = await noted(item, '10')
    await inTransaction((tx) => dropWant(tx, owner, id))
    expect(await needsOf(item)).toEqual([])
  })

  it('goes on a draft that is there, and never on one that was sent', async () => {
    const item = await sold('BL-DRAFT')
    const [{ id = 0 } = {}] = (await ordered({ itemId: item, siteId: here.storeSite })).orders
    const more = await ordered(
      { itemId: item, siteId: here.storeSite, quantity: typedQuantity('5') },
      { onDrafts: true },
    )
    expect(more.orders).toEqual([{ id, number: expect.stringMatching(/^PO-/) as string, isNew: false, places: [0] }])
    expect((await loadPurchase(id)).lines.map(({ entered }) => entered)).toEqual(['10', '5'])
    await rows(db, sql`update purchase_orders set sent_on = '2026-10-05' where id = ${id}`)
    expect((await ordered({ itemId: item, siteId: here.storeSite }, { onDrafts: true })).orders).toMatchObject([
      { isNew: true },
    ])
    expect((await refusalOf(() => ordered({ itemId: item, siteId: here.storeSite }, { orderId: id }))).detail).toMatch(
      /was sent meanwhile/,
    )
  })

  it('tells a fault beside the line of the list that it is in', async () => {
    const item = await sold('BL-FAULT')
    const good = { itemId: item, unit: 'piece', price: '0.40', dueOn: '2026-10-30', siteId: null, wantId: null }
    const refusal = await refusalOf((tx) =>
      orderNeeds(tx, owner, {
        onDrafts: false,
        orderId: null,
        lines: [
          { ...good, quantity: typedQuantity('5'), supplierId: first },
          { ...good, quantity: typedQuantity('many'), supplierId: second },
        ],
      }),
    )
    expect(Object.keys(refusal.fields ?? {})).toEqual(['lines.1.quantity'])
    expect((await rows(db, sql`select 1 from purchase_lines where item_id = ${item}`)).length).toBe(0)
  })
})

describe('bought for a customer’s order', () => {
  it('what arrives is allocated to it, up to what it wants; taken back it is free again', async () => {
    const item = await sold('BL-BOUGHT')
    const order = await inTransaction(async (tx) =>
      createOrder(tx, owner, {
        customerId: await idOf('customers', 'LARK'),
        dueOn: '2026-11-20',
        note: '',
        lines: [{ id: null, itemId: item, quantity: typedQuantity('8'), unit: 'piece', price: '1.00' }],
      }),
    )
    const [line] = await rows<{ id: number }>(db, sql`select id from sales_lines where order_id = ${order.id}`)
    const { id: wantId } = await noted(item, '8', { salesLineId: line!.id })
    expect(await needsOf(item)).toMatchObject([{ kind: 'for an order', salesOrderId: order.id }])
    const { orders } = await ordered({ itemId: item, wantId })
    const purchase = await loadPurchase(orders[0]!.id)
    expect(purchase.lines[0]!.forOrder).toMatchObject({
      id: order.id,
      customer: expect.stringContaining('Larkhill') as string,
    })
    const came = await inTransaction((tx) =>
      receive(tx, owner, purchase.id, {
        version: 1,
        packingList: '',
        lines: [
          {
            lineId: purchase.lines[0]!.id,
            quantity: typedQuantity('10'),
            unit: 'piece',
            binId: here.shelf,
            lot: '',
            expiresOn: null,
          },
        ],
      }),
    )
    const allocated = async () =>
      (
        await rows<{ line: number; quantity: string }>(
          db,
          sql`select sales_line_id as line, trim_scale(quantity)::text as quantity from allocations where item_id = ${item}`,
        )
      ).map((row) => `${row.line === line!.id} ${row.quantity}`)
    expect(await allocated()).toEqual(['true 8'])
    await inTransaction((tx) => reverse(tx, owner, came.postingId!))
    expect(await allocated()).toEqual([])
    await sound()
  })

  it('that is inspected is allocated once it is accepted, and free again with the decision', async () => {
    const item = await sold('BL-INSPECTED')
    const plan = InspectionPlanEdit.parse({
      code: 'BL-PLAN',
      name: 'Looked at',
      itemId: item,
      rule: { kind: 'all' },
      characteristics: [{ name: 'Clean', kind: 'yes or no' }],
    })
    await inTransaction((tx) => createPlan(tx, owner, plan))
    const order = await inTransaction(async (tx) =>
      createOrder(tx, owner, {
        customerId: await idOf('customers', 'LARK'),
        dueOn: '2026-11-20',
        note: '',
        lines: [{ id: null, itemId: item, quantity: typedQuantity('2'), unit: 'piece', price: '1.00' }],
      }),
    )
    const [line] = await rows<{ id: number }>(db, sql`select id from sales_lines where order_id = ${order.id}`)
    const { id: wantId } = await noted(item, '2', { salesLineId: line!.id })
    const { orders } = await ordered({ itemId: item, wantId, quantity: typedQuantity('5') })
    const [bought] = (await loadPurchase(orders[0]!.id)).lines
    const { inspections } = await inTransaction((tx) =>
      receive(tx, owner, orders[0]!.id, {
        version: 1,
        packingList: '',
        lines: [
          {
            lineId: bought!.id,
            quantity: typedQuantity('5'),
            unit: 'piece',
            binId: here.shelf,
            lot: '',
            expiresOn: null,
          },
        ],
      }),
    )
    const allocated = () =>
      rows(db, sql`select trim_scale(quantity)::text as quantity from allocations where item_id = ${item}`)
    expect(await allocated()).toEqual([])
    const decided = await inTransaction((tx) =>
      decide(tx, owner, inspections[0]!.id, {
        version: 1,
        decision: 'accepted with a reason',
        reason: 'seen at the mill',
        pieceIds: [],
      }),
    )
    expect(await allocated()).toEqual([{ quantity: '2' }])
    await inTransaction((tx) => reverse(tx, owner, decided.postingId!))
    expect(await allocated()).toEqual([])
    await sound()
  })

  it('is refused for a line of another item', async () => {
    const item = await sold('BL-OTHER')
    const [line] = await rows<{ id: number }>(db, sql`select id from sales_lines limit 1`)
    expect((await refusalOf(() => noted(item, '1', { salesLineId: line!.id }))).fields).toHaveProperty('salesLineId')
  })
})
