import { sql } from 'drizzle-orm'
import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { COST_METHODS, type CostMethod } from '~~/core/costing'
import { db, pool, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { checkLedger } from '~~/server/ledger/check'
import { post, type DraftMove, type End, type Valuation } from '~~/server/ledger/post'
import { reverse } from '~~/server/ledger/reverse'
import { Refusal } from '~~/server/utils/refusal'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { idOf, owner, withDemo } from './database'

withDemo()

/** How many random ledgers; each is carried out through PostgreSQL, by four at once. */
const RUNS = 500

const places = new Map<string, End>()
/** The five items of the ledger at hand, one for each method; every ledger has its own. */
let items: { id: number; method: CostMethod }[] = []
beforeAll(async () => {
  for (const code of ['SHELF-A', 'RACK']) {
    places.set(code, { placeId: await idOf('places', code), status: 'available' })
  }
  const [store] = await rows<{ id: number }>(
    db,
    sql`select p.id from places p join sites s on s.id = p.site_id where s.code = 'STORE' order by p.id limit 1`,
  )
  places.set('STORE', { placeId: store!.id, status: 'available' })
  for (const kind of ['supplier', 'customer', 'workshop', 'correction', 'opening']) {
    places.set(kind, {
      placeId: (await rows<{ id: number }>(db, sql`select id from places where kind = ${kind}`))[0]!.id,
      status: null,
    })
  }
})

async function freshItems(): Promise<void> {
  const made = await rows<{ id: number; method: CostMethod }>(
    db,
    sql`
      insert into items (
        code, name, group_id, stock_unit, buying_unit, selling_unit, making_unit, finest_step, costing,
        standard_cost
      )
      select
        'RANDOM-' || method || '-' || gen_random_uuid(), method, (select min(id) from item_groups), 'piece',
        'piece', 'piece', 'piece', 1, method, 1.75
      from unnest(
        array[
          ${sql.join(
            COST_METHODS.map((method) => sql`${method}`),
            sql`, `,
          )}
        ]
      ) method
      returning id, costing as method`,
  )
  items = COST_METHODS.map((method) => made.find((item) => item.method === method)!)
}

const ofLedger = () =>
  sql`
    (
      ${sql.join(
        items.map((item) => sql`${item.id}`),
        sql`, `,
      )}
    )`
const BINS = ['SHELF-A', 'SHELF-A', 'RACK', 'STORE']
const act = fc.record({
  kind: fc.constantFrom('buy', 'buy', 'buy', 'sell', 'move', 'build', 'find', 'reverse'),
  item: fc.nat(4),
  other: fc.nat(4),
  bin: fc.nat(3),
  to: fc.nat(3),
  quantity: fc.integer({ min: 1, max: 9 }),
  money: fc.bigInt(0n, 999n),
  back: fc.integer({ min: 0, max: 3 }),
  pick: fc.nat(99),
})
type Act = typeof act extends fc.Arbitrary<infer T> ? T : never

const move = (
  item: number,
  from: string,
  to: string,
  quantity: number,
  valuation: Valuation = { kind: 'method' },
): DraftMove => ({
  itemId: items[item]!.id,
  lotId: null,
  quantity: ratio(quantity),
  from: places.get(from)!,
  to: places.get(to)!,
  entered: String(quantity),
  unit: 'piece',
  residue: ZERO,
  valuation,
})

function movesOf(act: Act): DraftMove[] {
  const [bin, target] = [BINS[act.bin]!, BINS[act.to]!]
  const few = 1 + (act.quantity % 3)
  switch (act.kind) {
    case 'buy':
      return [move(act.item, 'supplier', bin, act.quantity, { kind: 'stated', value: act.money })]
    case 'sell':
      return [move(act.item, bin, 'customer', few)]
    case 'find':
      return [move(act.item, 'correction', bin, act.quantity)]
    case 'move':
      return bin === target ? [] : [move(act.item, bin, target, few)]
    case 'build':
      return act.item === act.other
        ? []
        : [
            move(act.item, bin, 'workshop', few),
            move(act.other, 'workshop', target, 3, { kind: 'share', weight: ratio(3) }),
            move((act.other + 1) % 5, 'workshop', target, 1, { kind: 'share', weight: ratio(1, 3) }),
          ]
    default:
      return []
  }
}

/** Carries an act out; a refusal for want of goods is a good answer. */
async function carryOut(act: Act): Promise<void> {
  try {
    await inTransaction(async (tx) => {
      if (act.kind === 'reverse') {
        const open = await rows<{ id: number }>(
          tx,
          sql`
            select id
            from postings o
            where kind = 'random'
              and exists (select 1 from moves m where m.posting_id = o.id and m.item_id in ${ofLedger()})
              and not exists (select 1 from postings r where r.reverses_id = o.id)
            order by id desc
            limit 20`,
        )
        if (open.length > 0) {
          await reverse(tx, owner, open[act.pick % open.length]!.id)
        }
        return
      }
      const moves = movesOf(act)
      if (moves.length > 0) {
        await post(tx, owner, {
          kind: 'random',
          label: 'random',
          effectiveOn: `2026-10-0${5 - act.back}`,
          workValue: act.kind === 'build' ? act.money : 0n,
          moves,
        })
      }
    })
  } catch (error) {
    if (!(error instanceof Refusal)) {
      throw error
    }
  }
}

describe('random postings by four at once', () => {
  it(`balances, values, layers and journal all follow from the moves (${RUNS} ledgers)`, async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 8, maxLength: 20 }), async (acts) => {
        await freshItems()
        const lanes = [0, 1, 2, 3].map((lane) => acts.filter((_, index) => index % 4 === lane))
        await Promise.all(
          lanes.map(async (lane) => {
            for (const entry of lane) {
              await carryOut(entry)
            }
          }),
        )
        await allFollows()
      }),
      { numRuns: RUNS, endOnFailure: true },
    )
    const [counted] = await rows<{ postings: number; late: number; reversals: number; adjusted: number }>(
      db,
      sql`
        select
          count(*)::int as postings, count(*) filter (where effective_on < '2026-10-05')::int as late,
          count(*) filter (where reverses_id is not null)::int as reversals,
          (select count(*)::int from adjustments) as adjusted
        from postings
        where kind in ('random', 'reversal')`,
    )
    // The random ledgers are worth something: thousands of acts, many of them late or taken back, and many
    // re-valuations.
    for (const number of Object.values(counted!)) {
      expect(number).toBeGreaterThan(100)
    }
    expect(await checkLedger()).toEqual([])
    expect((await pool.query('select posting_id from journal group by 1 having sum(amount) <> 0')).rows).toEqual([])
  })
})

/** What must hold of the ledger, each in plain sums over what was recorded. */
async function allFollows(): Promise<void> {
  const ids = ofLedger()
  expect(
    await rows(
      db,
      sql`
        with ends as (
          select item_id, to_place_id as place, quantity
          from moves
          where item_id in ${ids} and to_status is not null
          union all
          select item_id, from_place_id, -quantity
          from moves
          where item_id in ${ids} and from_status is not null
        )
        select b.item_id
        from balances b
        full join (
          select item_id, place, sum(quantity) as quantity from ends group by 1, 2
        ) e on e.item_id = b.item_id
          and e.place = b.place_id
        where coalesce(b.item_id, e.item_id) in ${ids} and coalesce(b.on_hand, 0) <> coalesce(e.quantity, 0)`,
    ),
  ).toEqual([])
  expect(
    await rows(
      db,
      sql`
        select posting_id
        from journal
        where posting_id in (
          select posting_id
          from moves
          where item_id in ${ids}
          union
          select a.posting_id
          from adjustments a
          join moves m on m.id = a.move_id
          where m.item_id in ${ids}
        )
        group by 1
        having sum(amount) <> 0`,
    ),
  ).toEqual([])
  const held = await rows<{
    item: number
    site: number
    quantity: string
    value: string
    layers: { quantity: string; value: string }[]
    n: string | null
    d: string | null
    moved: string
    worth: string
  }>(
    db,
    sql`
      select
        h.item_id as item, h.site_id as site, trim_scale(h.quantity)::text as quantity, h.value::text as value,
        h.layers, h.unit_numerator::text as n, h.unit_denominator::text as d,
        (
          select coalesce(trim_scale(sum(b.on_hand)), 0)::text
          from balances b
          join places p on p.id = b.place_id
          where b.item_id = h.item_id and p.site_id = h.site_id
        ) as moved,
        (
          select coalesce(sum(j.amount), 0)::text
          from journal j
          where j.item_id = h.item_id and j.site_id = h.site_id and j.place_kind = 'bin'
        ) as worth
      from holdings h
      where h.item_id in ${ids}`,
  )
  for (const row of held) {
    const method = items.find((item) => item.id === row.item)!.method
    expect([row.quantity, row.value]).toEqual([row.moved, row.worth])
    if (row.quantity === '0') {
      expect(row.value).toBe('0')
    }
    if (method.endsWith('first out')) {
      expect(
        row.layers.every(
          (layer) => !layer.quantity.startsWith('-') && layer.quantity !== '0' && !layer.value.startsWith('-'),
        ),
      ).toBe(true)
      expect(toText(row.layers.reduce((sum, layer) => sum.add(ratio(layer.quantity)), ZERO))).toBe(row.quantity)
      expect(row.layers.reduce((sum, layer) => sum + BigInt(layer.value), 0n).toString()).toBe(row.value)
    }
    // 1.75 for one at standard; half a cent goes to the even neighbour, and there are no halves of 175 cents.
    if (method === 'standard') {
      expect(row.value).toBe(String(BigInt(row.quantity) * 175n))
    }
  }
}
