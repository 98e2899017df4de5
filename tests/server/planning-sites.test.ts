import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { editOrder, moveSupply } from '~~/server/services/planning/edit-order'
import { madeOf } from '~~/server/services/planning/made-of'
import { copyPlan, createPlan, editPlan, runPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { explainOrder } from '~~/server/services/planning/explain-order'
import { release } from '~~/server/services/planning/release'
import { loadPlan } from '~~/server/services/planning/stored-plan'
import { NewPlan, OrderEdit } from '~~/shared/planning/requests'
import { naivePlan } from '../planning/naive-plan'
import { idOf, owner, withDemo } from './database'
import { makeBought } from './planning-helpers'

withDemo()

describe('items planned at each site', () => {
  let [workshop, store, parkside, kit, item] = [0, 0, 0, 0, 0]
  const make = async (more: object = {}): Promise<number> =>
    (
      await inTransaction((tx) =>
        createPlan(
          tx,
          owner,
          NewPlan.parse({ name: 'Sites', kind: 'trial', endsOn: '2026-12-31', demandRule: 'orders only', ...more }),
        ),
      )
    ).id
  const read = (plan: number) => readPlan(plan, owner.today)
  const ordersOf = async (plan: number, code: string): Promise<string[]> =>
    (await read(plan)).orders
      .filter((o) => o.code === code && o.state !== 'released')
      .map((o) => `${o.kind} ${Number(o.quantity)} ${o.fromSite ?? ''}→${o.site} ${o.releaseOn}→${o.dueOn}`)
  const setItem = (values: ReturnType<typeof sql>) => rows(db, sql`update items set ${values} where id = ${item}`)
  const sell = async (site: number | null, quantity: number, dueOn: string): Promise<void> => {
    const [order] = await rows<{ id: number }>(
      db,
      sql`
        insert into sales_orders (number, customer_id, ordered_on, due_on, site_id)
        select 'SO-S' || ${crypto.randomUUID()}::text, id, '2026-10-01', ${dueOn}, ${site}
        from customers
        where code = 'LARK'
        returning id`,
    )
    await rows(
      db,
      sql`
        insert into sales_lines (order_id, line, item_id, entered, unit, price, quantity, stock_price)
        values (${order!.id}, 1, ${item}, ${String(quantity)}, 'piece', '1', ${quantity}, '1')`,
    )
  }

  beforeAll(async () => {
    ;[workshop, store, parkside] = (await rows<{ id: number }>(db, sql`select id from sites order by id`)).map(
      (row) => row.id,
    ) as [number, number, number]
    kit = await idOf('items', 'KIT-FIRST')
    item = await makeBought('WIDGET')
    // Its supplier works every day, so that days are easily counted.
    await rows(db, sql`insert into calendars (name, weekdays) values ('Every day', '{t,t,t,t,t,t,t}')`)
    const [supplier] = await rows<{ id: number }>(
      db,
      sql`
        update suppliers
        set calendar_id = (select id from calendars where name = 'Every day')
        where id = (select id from suppliers where calendar_id is null order by id limit 1)
        returning id`,
    )
    await rows(
      db,
      sql`
        insert into supplier_terms (item_id, supplier_id, rank, unit, price, lead_days)
        values (${item}, ${supplier!.id}, 1, 'piece', '1', 5)`,
    )
  })

  it('the web shop’s warehouse is filled up along the van’s way: below 6 kits up to 12, 2 working days before', async () => {
    const plan = await make()
    const { items, nodes } = await read(plan)
    const node = nodes.find((node) => node.id === `${kit}@${parkside}`)!
    expect(items[node.id]).toMatchObject({ itemId: kit, site: 'Parkside Warehouse', plannedSource: 'move' })
    expect(node.safety).toBe(4)
    const moves = await ordersOf(plan, 'KIT-FIRST')
    // None is there, 6 is the reorder point: 12 today, though the van cannot bring them before Wednesday; of 5 in the
    // workshop and 12 wanted, 7 are made.
    expect(moves.slice(0, 2).sort()).toEqual([
      'make 7 →Workshop 2026-10-05→2026-10-05',
      'move 12 Workshop→Parkside Warehouse 2026-10-05→2026-10-05',
    ])
    expect((await read(plan)).messages.map((m) => m.text)).toContain(
      'KIT-FIRST First binding kit at Parkside Warehouse: 12 pc needed on 5 Oct can be there on 7 Oct at the earliest, 2 working days of lead time too late.',
    )
    // Above it nothing is to do.
    await rows(
      db,
      sql`
        insert into balances (item_id, place_id, status, on_hand)
        select ${kit}, id, 'available', 8
        from places
        where code = 'PK-1'`,
    )
    expect((await ordersOf(await make(), 'KIT-FIRST')).filter((text) => text.startsWith('move'))).toEqual([])
    await rows(
      db,
      sql`delete from balances where item_id = ${kit} and place_id = (select id from places where code = 'PK-1')`,
    )
    // All as one: no node of another site, nothing to move.
    const asOne = await read(await make({ scope: { sitesAsOne: true } }))
    expect(asOne.nodes.filter((node) => node.id.includes('@'))).toEqual([])
    expect(asOne.orders.filter((order) => order.kind === 'move')).toEqual([])
  })

  it('10 wanted at Parkside on Friday 30 October leave the workshop on the 28th and are bought by then', async () => {
    await sell(parkside, 10, '2026-10-30')
    const plan = await make()
    // The van takes 2 working days; the supplier 5 days of every day before the 28th.
    expect(await ordersOf(plan, 'WIDGET')).toEqual([
      'buy 10 →Workshop 2026-10-23→2026-10-28',
      'move 10 Workshop→Parkside Warehouse 2026-10-28→2026-10-30',
    ])
    const orders = (await read(plan)).orders.filter((o) => o.code === 'WIDGET')
    const buying = await explainOrder(plan, orders.find((o) => o.kind === 'buy')!.id)
    expect(buying.reasons).toMatchObject([
      { label: 'Move 10 pc WIDGET', reasons: [{ kind: 'sales order', quantity: '10 pc' }] },
    ])
    expect(await explainOrder(plan, orders.find((o) => o.kind === 'move')!.id)).toMatchObject({
      from: 'Workshop',
      site: 'Parkside Warehouse',
      leadDays: 2,
    })
    expect(
      (await madeOf(plan, `${item}@${parkside}`, '2026-10-26', '2026-11-01')).parts.map(
        (part) => `${part.line} ${part.day} ${part.label.split(' ')[0]} ${part.quantity}`,
      ),
    ).toEqual([
      'released 2026-10-28 Move, 10 pc',
      `wanted 2026-10-30 ${await firstNumber()} 10 pc`,
      'planned 2026-10-30 Move 10 pc',
    ])
  })
  const firstNumber = async (): Promise<string> =>
    (
      await rows<{ number: string }>(
        db,
        sql`
          select o.number
          from sales_orders o
          join sales_lines l on l.order_id = o.id
          where l.item_id = ${item}
          order by o.id
          limit 1`,
      )
    )[0]!.number

  it('what lies in the store across the yard serves the workshop, what lies at Parkside does not', async () => {
    const lay = async (site: number, quantity: number) =>
      rows(
        db,
        sql`
          insert into balances (item_id, place_id, status, on_hand)
          select ${item}, min(id), 'available', ${quantity}
          from places
          where site_id = ${site} and not closed_to_picking`,
      )
    await lay(store, 4)
    await lay(parkside, 3)
    expect(await ordersOf(await make(), 'WIDGET')).toEqual([
      'buy 3 →Workshop 2026-10-23→2026-10-28',
      'move 7 Workshop→Parkside Warehouse 2026-10-28→2026-10-30',
    ])
    expect(await ordersOf(await make({ scope: { sitesAsOne: true } }), 'WIDGET')).toEqual([
      'buy 3 →Workshop 2026-10-25→2026-10-30',
    ])
    // Parkside left out: its order and its stock are no matter of this plan.
    expect(await ordersOf(await make({ scope: { sites: [workshop, store] } }), 'WIDGET')).toEqual([])
    await rows(db, sql`delete from balances where item_id = ${item}`)
  })

  it('an item moved from Parkside is bought there; the workshop’s need comes by a way that is added', async () => {
    await sell(null, 6, '2026-11-06')
    await setItem(sql`source = 'moved from another site', from_site_id = ${parkside}, lead_days = 4`)
    // No way leads back: the item's own days count.
    expect(await ordersOf(await make(), 'WIDGET')).toEqual([
      'buy 10 →Parkside Warehouse 2026-10-25→2026-10-30',
      'buy 6 →Parkside Warehouse 2026-10-28→2026-11-02',
      'move 6 Parkside Warehouse→Workshop 2026-11-02→2026-11-06',
    ])
    await rows(
      db,
      sql`
        insert into routes (code, name, from_site_id, to_site_id, days)
        values ('VAN-BACK', 'Van back', ${parkside}, ${workshop}, 1)`,
    )
    expect(await ordersOf(await make(), 'WIDGET')).toContain('move 6 Parkside Warehouse→Workshop 2026-11-05→2026-11-06')
    await rows(db, sql`delete from routes where code = 'VAN-BACK'`)
    await setItem(sql`source = 'bought', from_site_id = null, lead_days = 0`)
  })

  it('without a way to it a site buys for itself, and the order says where to deliver', async () => {
    const [van] = await rows<{ id: number }>(db, sql`update routes set retired = true where code = 'VAN' returning id`)
    const plan = await make({ kind: 'working' })
    expect(await ordersOf(plan, 'WIDGET')).toEqual([
      'buy 10 →Parkside Warehouse 2026-10-25→2026-10-30',
      'buy 6 →Workshop 2026-11-01→2026-11-06',
    ])
    const { version, orders } = await read(plan)
    const done = await inTransaction((tx) =>
      release(tx, owner, plan, { version, orderIds: orders.filter((o) => o.code === 'WIDGET').map((o) => o.id) }),
    )
    const made = await rows<{ siteId: number | null }>(
      db,
      sql`
        select site_id as "siteId"
        from purchase_orders
        where id = any(
          ${sql`
            array[
              ${sql.join(
                done.documents.map((document) => sql`${document.id}::int`),
                sql`, `,
              )}
            ]`}
        )
        order by id`,
    )
    expect(made.map((entry) => entry.siteId)).toEqual([parkside, null])
    expect(await ordersOf(plan, 'WIDGET')).toEqual([])
    await rows(
      db,
      sql`
        update purchase_orders
        set status = 'closed'
        where id = any(
          ${sql`
            array[
              ${sql.join(
                done.documents.map((document) => sql`${document.id}::int`),
                sql`, `,
              )}
            ]`}
        )`,
    )
    await rows(db, sql`update routes set retired = false where id = ${van!.id}`)
  })

  it('a move is fixed, kept in a copy, released as a transfer and not proposed again; the transfer is moved from its message', async () => {
    const plan = await make({ kind: 'working' })
    const move = (await read(plan)).orders.find((o) => o.code === 'WIDGET' && o.kind === 'move')!
    await inTransaction(async (tx) =>
      editOrder(
        tx,
        owner,
        { planId: plan, orderId: move.id },
        OrderEdit.parse({
          key: crypto.randomUUID(),
          version: (await read(plan)).version,
          quantity: '12',
          dueOn: '2026-10-29',
        }),
      ),
    )
    const after = [
      'buy 12 →Workshop 2026-10-22→2026-10-27',
      'move 12 Workshop→Parkside Warehouse 2026-10-27→2026-10-29',
      'buy 6 →Workshop 2026-11-01→2026-11-06',
    ]
    expect((await ordersOf(plan, 'WIDGET')).sort()).toEqual([...after].sort())
    const copy = await inTransaction((tx) => copyPlan(tx, owner, plan, 'Copy of sites'))
    expect((await ordersOf(copy.id, 'WIDGET')).sort()).toEqual([...after].sort())
    // All as one stock, a move brings nothing: 10 and 6 are bought.
    const {
      name,
      note,
      endsOn,
      forecastFalls,
      demandRule,
      forecastIds,
      scope,
      changes,
      version: seen,
    } = await read(copy.id)
    await inTransaction((tx) =>
      editPlan(tx, owner, copy.id, {
        name,
        note,
        endsOn,
        forecastFalls,
        demandRule,
        forecastIds,
        changes,
        scope: { ...scope, sitesAsOne: true },
        version: seen,
      }),
    )
    expect(
      (await ordersOf(copy.id, 'WIDGET'))
        .filter((text) => text.startsWith('buy'))
        .map((text) => text.split(' ')[1])
        .sort(),
    ).toEqual(['10', '6'])
    const { version, orders } = await read(plan)
    const done = await inTransaction((tx) =>
      release(tx, owner, plan, { version, orderIds: orders.filter((o) => o.code === 'WIDGET').map((o) => o.id) }),
    )
    expect(done.documents.map((document) => document.kind).sort()).toEqual(['purchase order', 'transfer'])
    expect(await ordersOf(plan, 'WIDGET')).toEqual([])
    const [transfer] = await rows<{
      id: number
      from: number
      to: number
      leavesOn: string
      dueOn: string
      line: number
    }>(
      db,
      sql`
        select
          t.id, from_site_id as "from", to_site_id as "to", leaves_on as "leavesOn", due_on as "dueOn",
          l.id as line
        from transfers t
        join transfer_lines l on l.transfer_id = t.id
        where l.item_id = ${item}`,
    )
    expect(transfer).toMatchObject({ from: workshop, to: parkside, leavesOn: '2026-10-27', dueOn: '2026-10-29' })
    // The customer wants them two weeks sooner: the transfer and the purchase are to be pulled in.
    await rows(
      db,
      sql`
        update sales_orders
        set due_on = '2026-10-15'
        where id in (select order_id from sales_lines where item_id = ${item}) and site_id = ${parkside}`,
    )
    await rows(db, sql`update items set pull_in_days = 30 where id = ${item}`)
    await inTransaction((tx) => runPlan(tx, owner, plan))
    const shown = (await read(plan)).messages.filter((m) => m.itemId === item && m.code === 'pull in')
    expect(shown.map((m) => m.supply?.id)).toContain(`transfer:${transfer!.line}`)
    const moved = await inTransaction(async (tx) =>
      moveSupply(tx, owner, plan, {
        version: (await read(plan)).version,
        supply: `transfer:${transfer!.line}`,
        dueOn: '2026-10-15',
      }),
    )
    expect(moved).toMatchObject({ before: '2026-10-29', after: '2026-10-15' })
    expect(
      (
        await rows<{ leavesOn: string }>(
          db,
          sql`select leaves_on as "leavesOn" from transfers where id = ${transfer!.id}`,
        )
      )[0],
    ).toEqual({ leavesOn: '2026-10-15' })
  })

  it('a forecast is wanted where the item sold over the last year: 5 at 2 : 1 are 3 and 2', async () => {
    await rows(
      db,
      sql`
        insert into past_sales (item_id, site_id, sold_on, quantity, value)
        values
          (${item}, ${workshop}, '2026-05-01', 20, 2000), (${item}, ${parkside}, '2026-06-01', 10, 1000),
          (${item}, ${parkside}, '2024-06-01', 500, 1000)`,
    )
    const [forecast] = await rows<{ id: number }>(
      db,
      sql`
        insert into forecasts (name, step, first_on, last_on)
        values ('Widgets', 'week', '2026-11-30', '2026-12-06')
        returning id`,
    )
    await rows(
      db,
      sql`
        insert into forecast_cells (forecast_id, item_id, starts_on, quantity)
        values (${forecast!.id}, ${item}, '2026-11-30', 5)`,
    )
    const plan = await make({ demandRule: 'both', forecastIds: [forecast!.id] })
    const { input } = await loadPlan(db, plan)
    expect(input.demands.filter((d) => d.kind === 'forecast').map((d) => `${d.node} ${d.quantity}`)).toEqual([
      `${item} 3`,
      `${item}@${parkside} 2`,
    ])
  })

  it('every site of the demo with its forecast, netted by the slow twin: the same orders', async () => {
    const forecasts = (await rows<{ id: number }>(db, sql`select id from forecasts order by id`)).map((row) => row.id)
    const { input, output } = await loadPlan(db, await make({ demandRule: 'larger', forecastIds: forecasts }))
    expect(input.nodes.filter((node) => node.source.kind === 'move').length).toBeGreaterThan(5)
    const shown = (orders: readonly { node: string; quantity: number; due: string; release: string }[]): string[] =>
      orders.map((o) => `${o.node} ${o.quantity} ${o.release} ${o.due}`).sort()
    expect(shown(output.orders)).toEqual(shown(naivePlan(input).orders))
  })
})
