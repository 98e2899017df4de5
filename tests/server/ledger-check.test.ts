import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { checkLedger, mendLedger, type LedgerDifference } from '~~/server/ledger/check'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { keepMonthEnds } from '~~/server/services/books/month-ends'
import { ship } from '~~/server/services/dispatch/ship'
import { owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const run = (statement: ReturnType<typeof sql>) => rows(db, statement)
/** Tables that only grow are spoiled as only somebody at the database could. */
async function spoil(table: string, statement: ReturnType<typeof sql>): Promise<void> {
  await run(sql`alter table ${sql.identifier(table)} disable trigger user`)
  await run(statement)
  await run(sql`alter table ${sql.identifier(table)} enable trigger user`)
}
const brief = (differences: readonly LedgerDifference[]): string[] => [
  ...new Set(
    differences.map((entry) =>
      `${entry.kind}: ${entry.what}: ${entry.kept} → ${entry.worked} ${entry.unit ?? ''}`.trim(),
    ),
  ),
]
async function mended(): Promise<readonly LedgerDifference[]> {
  return (await inTransaction((tx) => mendLedger(tx, owner))).left
}

/** An order that the demo can send at once, and the version that it has. */
async function openOrder(): Promise<{ id: number; version: number }> {
  const [order] = await rows<{ id: number; version: number }>(
    db,
    sql`
      select o.id, o.version
      from sales_orders o
      join sales_lines l on l.order_id = o.id
      join balances b on b.item_id = l.item_id and b.status = 'available' and b.on_hand > b.allocated
      where o.status = 'open'
        and l.shipped < l.quantity
        and not exists (
          select 1 from allocations a join sales_lines m on m.id = a.sales_line_id where m.order_id = o.id
        )
      order by o.id
      limit 1`,
  )
  return order!
}

beforeAll(async () => {
  const first = await openOrder()
  await inTransaction((tx) => allocate(tx, owner, first.id, first.version))
  await inTransaction((tx) => ship(tx, owner, first.id, first.version + 1))
  const second = await openOrder()
  await inTransaction((tx) => allocate(tx, owner, second.id, second.version))
  // 10 at 1.00, of which 4 are gone; then 10 at 3.00 came to light that were there before: what left is worth 8.00, not
  // 4.00.
  const average = await make('CHECK-AVG', { costing: 'moving average' })
  await open(average, '10', '1.00', { effectiveOn: '2026-07-10' })
  await open(average, '4', '', { direction: 'less', reason: 'damaged', effectiveOn: '2026-08-10' })
  await open(average, '10', '3.00', { effectiveOn: '2026-07-10' })
  await open(await make('CHECK-LATEST', { costing: 'latest purchase' }), '5', '2.50')
  await keepMonthEnds(owner.today)
})

it('nothing differs in the demo, and mending nothing records nothing', async () => {
  expect(await checkLedger()).toEqual([])
  const count = (): Promise<{ n: number }[]> => rows(db, sql`select count(*)::int as n from postings`)
  const before = await count()
  expect(await inTransaction((tx) => mendLedger(tx, owner))).toEqual({ differences: [], left: [] })
  expect(await count()).toEqual(before)
})

describe('whatever is spoiled is found, named, left alone by the check, and mended when asked', () => {
  const cases: readonly [name: string, table: string, statement: ReturnType<typeof sql>, found: RegExp][] = [
    [
      'on hand +5',
      'balances',
      sql`update balances set on_hand = on_hand + 5 where id = (select min(id) from balances where on_hand > 0)`,
      /^on hand: \S+ · .*: \S+ → \S+ \S+$/,
    ],
    [
      'allocated +2',
      'balances',
      sql`
        update balances
        set allocated = allocated + 2
        where id = (select min(id) from balances where on_hand - allocated >= 2 and status = 'available')`,
      /^allocated: .*: 2 → 0 \S+$/,
    ],
    [
      'an allocation gone',
      'allocations',
      sql`delete from allocations where id = (select min(id) from allocations)`,
      /^allocated: .* → 0/,
    ],
    [
      'the value of a pool',
      'holdings',
      sql`update holdings set value = value + 100 where (item_id, site_id) = (select item_id, site_id from holdings where value > 0 order by 1, 2 limit 1)`,
      /^stock value: \S+ · .*: \d+ → \d+ money$/,
    ],
    [
      'the quantity of a pool',
      'holdings',
      sql`update holdings set quantity = quantity + 1 where (item_id, site_id) = (select item_id, site_id from holdings where value > 0 order by 1, 2 limit 1)`,
      /^stock value: /,
    ],
    [
      'what one unit of a pool is worth',
      'holdings',
      sql`update holdings set unit_numerator = unit_numerator + 1 where (item_id, site_id) = (select item_id, site_id from holdings where unit_numerator is not null order by 1, 2 limit 1)`,
      /^stock value: .* at /,
    ],
    [
      'an adjustment changed',
      'adjustments',
      sql`update adjustments set value = value + 7 where id = (select min(id) from adjustments where value <> 0)`,
      /^value of a move: /,
    ],
    [
      'an adjustment deleted',
      'adjustments',
      sql`delete from adjustments where id = (select max(id) from adjustments where value <> 0)`,
      /^value of a move: /,
    ],
    [
      'a month end changed',
      'month_balances',
      sql`update month_balances set on_hand = on_hand + 1 where ctid = (select min(ctid) from month_balances)`,
      /^month end: \d{4}-\d\d-\d\d · /,
    ],
    [
      'what is kept of a month gone',
      'month_balances',
      sql`delete from month_balances where month = (select max(month) from month_ends)`,
      /^month end: .*: 0 → /,
    ],
    [
      'a month end gone',
      'month_ends',
      sql`delete from month_ends where month = (select month from month_ends order by 1 desc offset 1 limit 1)`,
      /^month end: \d{4}-\d\d-\d\d: nothing → /,
    ],
    [
      'received +3',
      'purchase_lines',
      sql`update purchase_lines set received = received + 3 where id = (select min(id) from purchase_lines)`,
      /^document: .* · received: /,
    ],
    [
      'shipped −1',
      'sales_lines',
      sql`update sales_lines set shipped = shipped - 1 where id = (select min(l.id) from sales_lines l join items i on i.id = l.item_id where l.shipped >= 1 and i.kind = 'stocked')`,
      /^document: .* · shipped: /,
    ],
    [
      'build made +1',
      'builds',
      sql`update builds set made = made + 1 where id = (select min(id) from builds)`,
      /^document: .* · made: /,
    ],
    [
      'a build that used more than it took',
      'build_lines',
      sql`update build_lines set used = used + 1 where id = (select min(id) from build_lines)`,
      /^document: .* · used: /,
    ],
  ]
  it.each(cases)('%s', async (_, table, statement, found) => {
    await keepMonthEnds(owner.today)
    expect(await checkLedger()).toEqual([])
    await spoil(table, statement)
    const differences = brief(await checkLedger())
    expect(differences.find((line) => found.test(line)) ?? differences).toMatch(found)
    expect(brief(await checkLedger())).toEqual(differences)
    expect(await mended()).toEqual([])
    expect(await checkLedger()).toEqual([])
  })
})

it('more allocated than there is by the moves is named, and nothing is mended', async () => {
  const [spoiled] = await rows<{ id: number }>(
    db,
    sql`update allocations set quantity = quantity + 1000 where id = (select min(id) from allocations) returning id`,
  )
  await run(sql`update purchase_lines set received = received + 3 where id = (select min(id) from purchase_lines)`)
  const refusal = await refusalOf((tx) => mendLedger(tx, owner))
  expect([refusal.code, refusal.detail]).toEqual([
    'not-now',
    expect.stringMatching(
      /^More is allocated than there is by the moves\. Free it first\. \S+ · .*: \d+ allocated, \d+ there\.$/,
    ),
  ])
  expect(brief(await checkLedger())).toHaveLength(2)
  await run(sql`update allocations set quantity = quantity - 1000 where id = ${spoiled!.id}`)
  expect(await mended()).toEqual([])
  const [noted] = await rows<{ after: { mended: readonly { kind: string }[] }; who: number }>(
    db,
    sql`select after, user_id as who from changes where entity = 'ledger' order by id desc limit 1`,
  )
  expect([noted!.after.mended.map((entry) => entry.kind), noted!.who]).toEqual([['document'], owner.userId])
})
