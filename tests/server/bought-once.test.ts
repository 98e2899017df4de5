import { sql } from 'drizzle-orm'
import { beforeEach, describe, expect, it } from 'vitest'
import { ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { alikeForecasts } from '~~/server/services/demand/forecast-queries'
import { buyingList } from '~~/server/services/planning/buying-list'
import { comparePlans } from '~~/server/services/planning/compare'
import { createPlan, editPlan, listPlans } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { release } from '~~/server/services/planning/release'
import { askRun } from '~~/server/services/planning/runs'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { lookForLowStock, readLowStock } from '~~/server/services/stock/low-stock'
import { todayLines } from '~~/server/services/today/today'
import { NewPlan, PlanEdit } from '~~/shared/planning/requests'
import { idOf, owner, withDemo } from './database'
import { makeBought } from './planning-helpers'

withDemo()

const newPlan = (name: string, kind: 'working' | 'trial' = 'working') =>
  inTransaction((tx) =>
    createPlan(tx, owner, NewPlan.parse({ name, kind, endsOn: '2026-12-31', demandRule: 'orders only' })),
  )

/** Wanted: 40 in stock at all times, none there; bought at least ten at once, by fives. */
let item = 0
let supplierId = 0
let count = 0
let code = ''
beforeEach(async () => {
  count++
  code = `ONCE-${count}`
  item = await makeBought(code)
  supplierId = await idOf('suppliers', 'SEALAND')
  await rows(
    db,
    sql`
      insert into supplier_terms (item_id, supplier_id, unit, price, minimum, multiple, lead_days)
      values (${item}, ${supplierId}, 'piece', '1', '10', '5', 2)`,
  )
  await rows(db, sql`update items set safety_stock = 40 where id = ${item}`)
})

/** Somebody writes an order by hand. */
const byHand = (quantity: string) =>
  inTransaction((tx) =>
    createPurchase(tx, owner, {
      supplierId,
      siteId: null,
      note: '',
      lines: [{ itemId: item, quantity: ratio(quantity), unit: 'piece', price: '1', dueOn: '2026-10-07' }],
    }),
  )
const releaseAll = async (id: number) => {
  const { orders, version } = await readPlan(id, owner.today)
  const own = orders.filter((order) => order.code === code && order.state !== 'released')
  return inTransaction((tx) => release(tx, owner, id, { version, orderIds: own.map((order) => order.id) }))
}
const bought = async (): Promise<string[]> =>
  (
    await rows<{ quantity: string }>(db, sql`select quantity from purchase_lines where item_id = ${item} order by id`)
  ).map((line) => line.quantity)

describe('one hole, bought once', () => {
  it('there is one working plan: a second one makes a trial of the first, which releases nothing', async () => {
    const [first, second] = [await newPlan('First'), await newPlan('Second')]
    expect((await listPlans()).filter((plan) => plan.kind === 'working').map((plan) => plan.id)).toEqual([second.id])
    await expect(releaseAll(first.id)).rejects.toThrow('A trial plan releases nothing.')
  })
  it('the database holds it: no two plans work', async () => {
    const { id } = await newPlan('Trial', 'trial')
    await newPlan('Works')
    await expect(rows(db, sql`update plans set kind = 'working' where id = ${id}`)).rejects.toThrow()
  })
  it('what somebody ordered by hand since is taken off at release, and told', async () => {
    const { id } = await newPlan('By hand')
    const { number } = await byHand('15')
    const done = await releaseAll(id)
    expect(done.takenOff).toEqual([{ code, quantity: '15', symbol: expect.any(String) as string, by: [number] }])
    expect(await bought()).toEqual(['15', '25'])
  })
  it('of what is left at least the supplier’s minimum is bought', async () => {
    const { id } = await newPlan('Minimum')
    await byHand('37')
    await releaseAll(id)
    expect(await bought()).toEqual(['37', '10'])
  })
  it('where all of it was ordered nothing is written', async () => {
    const { id } = await newPlan('All')
    await byHand('50')
    const done = await releaseAll(id)
    expect([done.documents, done.takenOff[0]!.quantity]).toEqual([[], '40'])
    expect(await bought()).toEqual(['50'])
  })
  it('an order that was cancelled again does not count', async () => {
    const { id } = await newPlan('Cancelled')
    const order = await byHand('15')
    await rows(db, sql`update purchase_orders set status = 'cancelled' where id = ${order.id}`)
    await releaseAll(id)
    expect(await bought()).toEqual(['15', '40'])
  })
  it('the buying list, Today and what runs low offer only what is left', async () => {
    const offered = async () => ({
      list: (await buyingList()).orders.filter((order) => order.code === code).map((order) => order.quantity),
      today: (await todayLines(owner.today)).lines
        .filter((line) => line.area === 'planning' && line.title.endsWith(code))
        .map((line) => line.title),
      low: (await readLowStock(owner)).lines.filter((line) => line.code === code).map((line) => line.quantity),
    })
    await newPlan('Lists')
    await inTransaction((tx) => lookForLowStock(tx, owner.today))
    expect(await offered()).toMatchObject({ list: ['40'], low: ['40'] })
    await byHand('15')
    const less = await offered()
    expect(less).toMatchObject({ list: ['25'], low: ['25'] })
    expect(less.today).toEqual([expect.stringMatching(/^Buy 25 /)])
    await byHand('25')
    expect(await offered()).toEqual({ list: [], today: [], low: [] })
  })
  it('both are told in the unit people order in: 40 and then 25 pieces as cartons of ten', async () => {
    await rows(
      db,
      sql`
        insert into item_relations (item_id, unit, of_unit, numerator, denominator)
        values (${item}, 'carton', 'piece', 10, 1)`,
    )
    await rows(
      db,
      sql`update supplier_terms set unit = 'carton', minimum = '1', multiple = '0.5' where item_id = ${item}`,
    )
    const offered = async () => ({
      list: (await buyingList()).orders.filter((order) => order.code === code).map((order) => order.inUnit),
      low: (await readLowStock(owner)).lines.filter((line) => line.code === code).map((line) => line.inUnit),
    })
    await newPlan('Cartons')
    await inTransaction((tx) => lookForLowStock(tx, owner.today))
    const cartons = (quantity: string) => [{ quantity, symbol: 'carton' }]
    expect(await offered()).toEqual({ list: cartons('4'), low: cartons('4') })
    await byHand('15')
    expect(await offered()).toEqual({ list: cartons('2.5'), low: cartons('2.5') })
  })
})

describe('a forecast and its copy', () => {
  it('are told as alike, also where the copy is a little more; others are not', async () => {
    const make = async (name: string, quantities: readonly number[]): Promise<number> => {
      const [made] = await rows<{ id: number }>(
        db,
        sql`
          insert into forecasts (name, step, first_on, last_on)
          values (${`${name} ${code}`}, 'week', '2026-10-12', '2026-11-08')
          returning id`,
      )
      for (const [week, quantity] of quantities.entries()) {
        await rows(
          db,
          sql`
            insert into forecast_cells (forecast_id, item_id, starts_on, quantity)
            values (${made!.id}, ${item}, ${`2026-10-${12 + 7 * week}`}, ${quantity})`,
        )
      }
      return made!.id
    }
    const first = await make('First', [10, 20])
    const copy = await make('Copy', [11, 22])
    await make('Other', [50, 3])
    const own = (await alikeForecasts()).filter((pair) => pair.one === first || pair.other === first)
    expect(own).toEqual([{ one: first, other: copy }])
  })
})

describe('a plan says how old it is', () => {
  it('what has come since it was read is counted by kind; computed anew, nothing has', async () => {
    const { id } = await newPlan('Age')
    expect((await readPlan(id, owner.today)).since).toEqual([])
    await byHand('5')
    await byHand('5')
    expect((await readPlan(id, owner.today)).since).toContainEqual({ what: 'purchase order', count: 2 })
  })
  it('while it is computed with new settings, the old result stands with its own', async () => {
    const { id } = await newPlan('Settings')
    const { version } = await readPlan(id, owner.today)
    const edit = PlanEdit.parse({
      key: '6f1c9a52-6a52-4d2b-9b5c-1f8f3b1f7c11',
      version,
      name: 'Settings',
      note: '',
      endsOn: '2027-03-31',
      demandRule: 'orders only',
      forecastFalls: 'first day',
      forecastIds: [],
      scope: {},
      changes: [],
    })
    await inTransaction((tx) => editPlan(tx, owner, id, edit, askRun))
    const shown = await readPlan(id, owner.today)
    expect([shown.endsOn, shown.shownUntil]).toEqual(['2027-03-31', '2026-12-31'])
    expect((await comparePlans([id])).plans).toMatchObject([{ endsOn: '2026-12-31', isOlder: true }])
  })
})
