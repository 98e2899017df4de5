import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { promiseLines } from '~~/server/services/demand/promise'
import { createPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { PromiseQuery } from '~~/shared/demand/requests'
import { NewPlan } from '~~/shared/planning/requests'
import { owner, withDemo } from './database'
import { makeBought } from './planning-helpers'

withDemo()

/**
 * October 2026: the 5th, 12th and 19th are Mondays. A supplier who has no calendar of its own works as the company
 * does, Monday to Friday unless somebody changes it.
 */
describe('who has no calendar of its own', () => {
  let item = 0
  const planned = async (): Promise<string[]> => {
    const plan = await inTransaction((tx) =>
      createPlan(
        tx,
        owner,
        NewPlan.parse({ name: 'Days', kind: 'trial', endsOn: '2026-12-31', demandRule: 'orders only' }),
      ),
    )
    return (await readPlan(plan.id, owner.today)).orders
      .filter((order) => order.code === 'WEEKDAY')
      .map((order) => `${order.kind} ${Number(order.quantity)} ${order.site} ${order.releaseOn}→${order.dueOn}`)
  }

  beforeAll(async () => {
    item = await makeBought('WEEKDAY')
    await rows(
      db,
      sql`
        insert into supplier_terms (item_id, supplier_id, rank, unit, price, lead_days)
        select ${item}, id, 1, 'piece', '1', 5
        from suppliers
        where calendar_id is null
        order by id
        limit 1`,
    )
    await rows(
      db,
      sql`
        insert into sales_orders (number, customer_id, ordered_on, due_on)
        select 'SO-DAYS', id, '2026-10-01', '2026-10-19'
        from customers
        where code = 'LARK'`,
    )
    await rows(
      db,
      sql`
        insert into sales_lines (order_id, line, item_id, entered, unit, price, quantity, stock_price)
        select id, 1, ${item}, '3', 'piece', '1', 3, '1'
        from sales_orders
        where number = 'SO-DAYS'`,
    )
  })

  it('delivers and is ordered from on the company’s working days: five before Monday the 19th is Monday the 12th', async () => {
    expect(await planned()).toEqual(['buy 3 Workshop 2026-10-12→2026-10-19'])
  })

  it('promises on them too: five after Monday the 5th is Monday the 12th', async () => {
    const { lines } = await promiseLines(
      PromiseQuery.parse({ orderId: null, lines: [{ itemId: item, quantity: '4', unit: 'piece' }] }),
      owner.today,
    )
    expect(lines.map((line) => line.on)).toEqual(['2026-10-12'])
  })

  it('is closed where the company’s calendar is', async () => {
    const [calendar] = await rows<{ id: number }>(
      db,
      sql`insert into calendars (name) values ('Four days') returning id`,
    )
    await rows(db, sql`insert into closed_days (calendar_id, day) values (${calendar!.id}, '2026-10-16')`)
    await rows(db, sql`update company set calendar_id = ${calendar!.id}`)
    expect(await planned()).toEqual(['buy 3 Workshop 2026-10-09→2026-10-19'])
    await rows(db, sql`update company set calendar_id = null`)
  })
})
