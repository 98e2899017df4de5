import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { createOrder } from '~~/server/services/demand/orders'
import { listOrders, loadOrder } from '~~/server/services/demand/order-queries'
import { listDispatch } from '~~/server/services/dispatch/dispatch-queries'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { todayLines } from '~~/server/services/today/today'
import { OrderQuery } from '~~/shared/demand/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const order = async (
  item: number,
  quantity: string,
  dueOn: string,
  more: { siteId?: number; priority?: number } = {},
) =>
  inTransaction(async (tx) =>
    createOrder(tx, owner, {
      customerId: await idOf('customers', 'LARK'),
      dueOn,
      note: '',
      ...more,
      lines: [{ id: null, itemId: item, quantity: typedQuantity(quantity), unit: 'piece', price: '5' }],
    }),
  )

/**
 * What each list says of an order: how many lines cannot be filled, how many could be allocated, what today says, and
 * what falls to its line.
 */
async function said(id: number): Promise<unknown> {
  const { rows: list } = await listOrders(OrderQuery.parse({ search: '', status: 'open' }))
  const { lines } = await todayLines(owner.today)
  const page = await loadOrder(id, owner.today)
  return {
    demand: list.find((row) => row.id === id)?.shortLines,
    dispatch: (await listDispatch()).find((row) => row.id === id)?.fillable,
    today: lines.filter((line) => line.link.endsWith(`/${id}`)).map((line) => line.detail),
    line: page.lines.map((line) => [line.free, line.got]),
  }
}

// Fourteen are there; twelve are due first, six later.
describe('what can be filled is judged in the order of serving', () => {
  let [first, second] = [0, 0]
  beforeAll(async () => {
    const item = await make('SERVED')
    await open(item, '14', '1.00')
    second = (await order(item, '6', '2026-10-02')).id
    first = (await order(item, '12', '2026-10-01')).id
  })
  it('everything is there for the one that is due first', async () => {
    expect(await said(first)).toEqual({
      demand: 0,
      dispatch: 1,
      today: ['everything is there'],
      line: [['14', '12']],
    })
  })
  it('two are left for the one after it, four are missing, and every list says so', async () => {
    expect(await said(second)).toEqual({
      demand: 1,
      dispatch: 0,
      today: [expect.stringMatching(/^4 \S+ SERVED missing$/)],
      line: [['14', '2']],
    })
  })
  it('of the same day the higher priority is served first', async () => {
    await rows(db, sql`update sales_orders set due_on = '2026-10-01', priority = 1 where id = ${second}`)
    expect([await said(second), await said(first)]).toMatchObject([
      { demand: 0, line: [['14', '6']] },
      { demand: 1, line: [['14', '8']] },
    ])
  })
  it('what is allocated is out of the way, whoever it is for', async () => {
    await inTransaction((tx) => allocate(tx, owner, first, 1))
    expect([await said(first), await said(second)]).toMatchObject([
      { demand: 0, today: ['allocated in full'], line: [['2', '0']] },
      { demand: 1, line: [['2', '2']] },
    ])
  })
})

describe('goods of another site', () => {
  it('are not allocated unasked: the plan moves them there', async () => {
    const item = await make('ELSEWHERE')
    await open(item, '9', '1.00')
    const siteId = await idOf('sites', 'PARKSIDE')
    const { id, number } = await order(item, '4', '2026-10-03', { siteId })
    expect(await said(id)).toMatchObject({ demand: 1, dispatch: 0, line: [['0', '0']] })
    const refused = await refusalOf((tx) => allocate(tx, owner, id, 1))
    expect(refused.message).toMatch(new RegExp(`^Nothing of ${number} is free: 4 \\S+ ELSEWHERE missing\\.$`))
  })
})
