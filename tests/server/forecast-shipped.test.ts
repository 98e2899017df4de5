import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { createOrder } from '~~/server/services/demand/orders'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { createPlan } from '~~/server/services/planning/plans'
import { loadPlan } from '~~/server/services/planning/stored-plan'
import { NewPlan } from '~~/shared/planning/requests'
import { idOf, owner, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

/**
 * A week’s forecast of 13 pieces, Monday 12 to Sunday 18 October 2026, and an order of 6 in it: 13 − 6 = 7 are left of
 * the forecast.
 */
describe('a forecast that orders use up', () => {
  let [item, forecast, order] = [0, 0, 0]
  /** What is wanted of the item by kind of demand. */
  const demand = async (): Promise<Record<string, number>> => {
    const plan = await inTransaction((tx) =>
      createPlan(
        tx,
        owner,
        NewPlan.parse({
          name: 'Shipped',
          kind: 'trial',
          endsOn: '2026-10-31',
          demandRule: 'larger',
          forecastIds: [forecast],
        }),
      ),
    )
    const { input } = await loadPlan(db, plan.id)
    const sums: Record<string, number> = {}
    for (const { node, kind, quantity } of input.demands) {
      if (node === String(item)) {
        sums[kind] = (sums[kind] ?? 0) + quantity
      }
    }
    return sums
  }
  const version = async (): Promise<number> =>
    (await rows<{ version: number }>(db, sql`select version from sales_orders where id = ${order}`))[0]!.version

  beforeAll(async () => {
    item = await make('FC-SHIPPED')
    await open(item, '20', '1.00')
    const [made] = await rows<{ id: number }>(
      db,
      sql`
        insert into forecasts (name, step, first_on, last_on)
        values ('October', 'week', '2026-10-12', '2026-10-18')
        returning id`,
    )
    forecast = made!.id
    await rows(
      db,
      sql`
        insert into forecast_cells (forecast_id, item_id, starts_on, quantity)
        values (${forecast}, ${item}, '2026-10-12', 13)`,
    )
    const line = { id: null, itemId: item, quantity: typedQuantity('6'), unit: 'piece', price: '2' }
    const { id } = await inTransaction(async (tx) =>
      createOrder(tx, owner, {
        customerId: await idOf('customers', 'LARK'),
        dueOn: '2026-10-14',
        note: '',
        lines: [line],
      }),
    )
    order = id
  })

  it('an open order of 6 leaves 7 of it', async () => {
    expect(await demand()).toEqual({ 'sales order': 6, forecast: 7 })
  })

  it('once it is shipped 7 are left still: shipping never raises the demand', async () => {
    await inTransaction(async (tx) => allocate(tx, owner, order, await version()))
    await inTransaction(async (tx) => ship(tx, owner, order, await version()))
    expect(await demand()).toEqual({ forecast: 7 })
  })

  it('what was shipped and what is still open of an order count together', async () => {
    await rows(db, sql`update sales_lines set quantity = 9 where order_id = ${order}`)
    await rows(db, sql`update sales_orders set status = 'open' where id = ${order}`)
    // 3 more are open: 13 − 9 = 4 are left.
    expect(await demand()).toEqual({ 'sales order': 3, forecast: 4 })
    await rows(db, sql`update sales_lines set quantity = 6 where order_id = ${order}`)
    await rows(db, sql`update sales_orders set status = 'shipped' where id = ${order}`)
  })

  it('a shipment that is taken back is an open order again', async () => {
    const [posting] = await rows<{ id: number }>(
      db,
      sql`select max(id)::int as id from postings where kind = 'shipment'`,
    )
    await inTransaction((tx) => reverse(tx, owner, posting!.id))
    expect(await demand()).toEqual({ 'sales order': 6, forecast: 7 })
  })
})
