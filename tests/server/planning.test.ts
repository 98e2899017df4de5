import { beforeAll, describe, expect, it } from 'vitest'
import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { adoptPlan, createPlan, deletePlan, listPlans } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { explainOrder } from '~~/server/services/planning/explain-order'
import { release } from '~~/server/services/planning/release'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { todayLines } from '~~/server/services/today/today'
import { explodeItem, whereUsedOf } from '~~/server/services/structure/questions'
import { NewPlan } from '~~/shared/planning/requests'
import { ExplodeQuery } from '~~/shared/structure/requests'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()
let id = 0
const plan = () => readPlan(id, owner.today)
beforeAll(async () => {
  id = (
    await inTransaction((tx) =>
      createPlan(
        tx,
        owner,
        NewPlan.parse({ name: 'Orders', kind: 'working', endsOn: '2026-12-31', demandRule: 'orders only' }),
      ),
    )
  ).id
})

describe('a plan of the demo', () => {
  // SO-0201: 24 navy − 4 there = 20 books and cases; 9.2 m cloth − 1.2 m = 8 m, bought in steps of 6.6 m² (5 m), at
  // least 13.2 m² (10 m).
  it('finds what the navy notebooks want', async () => {
    const { orders } = await plan()
    const findByCode = (code: string) =>
      orders.filter((o) => o.code === code).map((o) => `${o.kind} ${o.quantity} ${o.releaseOn}→${o.dueOn}`)
    expect(findByCode('NB-A5-NAVY')).toEqual(['make 20 2026-11-04→2026-11-06'])
    expect(findByCode('CASE-A5-NAVY')).toEqual(['make 20 2026-10-30→2026-11-04'])
    expect(findByCode('CLOTH-NAVY')).toEqual(['buy 10 2026-10-16→2026-10-30'])
    expect(findByCode('GLUE-TUB')).toEqual(['break down 200 2026-10-08→2026-10-09'])
  })
  it('says that the drum is late, by how much, and what is possible', async () => {
    const drum = (await plan()).orders.find((o) => o.code === 'GLUE-DRUM')!
    // Needed Thursday 8 Oct; 8 working days before is Monday 28 Sep, five before the plan starts; 8 after Monday the
    // 5th is Thursday the 15th.
    expect(drum).toMatchObject({
      releaseOn: '2026-10-05',
      dueOn: '2026-10-08',
      lateBy: 5,
      promisedOn: '2026-10-15',
      supplier: 'Sealand Adhesives',
    })
  })
  it('reports the late component, the lot that expires, the order to pull in', async () => {
    const { messages } = await plan()
    const texts = messages.map((m) => m.text)
    expect(texts).toContain('PO-0042: 1 550 m of THREAD Linen thread 18/3, waxed was due on 1 Oct.')
    // Parkside is filled up to 12 kits today, so seven are packed now. Where all sites are one stock, none is: of 14 of
    // the lot ten are used, in kits for the season's safety stock of 10 (5 there, 1 ordered, so 6 missing on 1 Nov) and
    // the 4 that Parkside keeps are packed from the 29th on.
    expect(texts.filter((text) => text.includes('K-118'))).toEqual([])
    const entry = await inTransaction((tx) =>
      createPlan(
        tx,
        owner,
        NewPlan.parse({
          name: 'One stock',
          kind: 'trial',
          endsOn: '2026-12-31',
          demandRule: 'orders only',
          scope: { sitesAsOne: true },
        }),
      ),
    )
    const pooled = await readPlan(entry.id, owner.today)
    await inTransaction((tx) => deletePlan(tx, entry.id))
    expect(pooled.messages.map((m) => m.text)).toContain(
      'GLUE-BOTTLE Kit glue, 100 ml bottle: 4 bottle will expire unused on 30 Oct (lot K-118).',
    )
    expect(texts).toContain('PO-0043: pull in 61 m of FOIL-GOLD Stamping foil gold, 61 m roll from 12 Nov to 6 Nov.')
  })
  it('gives the chain of reasons up to the customer’s order', async () => {
    const cloth = (await plan()).orders.find((o) => o.code === 'CLOTH-NAVY')!
    const why = await explainOrder(id, cloth.id)
    expect(why).toMatchObject({
      demandThatDay: '9.2 m',
      balanceBefore: '1.2 m',
      netRequirement: '8 m',
      minimum: '13.2 m²',
      multipleEntered: '6.6 m²',
      times: 2,
      quantity: '10 m',
      balanceAfter: '2 m',
      leadDays: 10,
    })
    expect(why.reasons).toMatchObject([
      {
        quantity: '8 m',
        label: 'Build 20 pc CASE-A5-NAVY',
        reasons: [
          { label: 'Build 20 pc NB-A5-NAVY', reasons: [{ label: 'SO-0201 Larkhill Books', quantity: '20 pc' }] },
        ],
      },
    ])
  })
  it('Today lists what is to be released', async () => {
    const { lines, counts } = await todayLines(owner.today)
    expect(lines.filter((l) => l.area === 'planning').map((l) => l.title)).toContain('Buy 1 drum GLUE-DRUM')
    // Orders that cannot be filled once those before them are served; services are not held, so never short.
    expect(counts.demand).toBe(27)
  })
})

describe('release', () => {
  it('is refused for a stale version, and for a trial plan', async () => {
    const { orders, version } = await plan()
    expect(
      (await refusalOf((tx) => release(tx, owner, id, { version: version - 1, orderIds: [orders[0]!.id] }))).code,
    ).toBe('stale-version')
    const trial = await inTransaction((tx) =>
      createPlan(tx, owner, NewPlan.parse({ name: 'Trial', kind: 'trial', endsOn: '2026-11-30', forecastIds: [1] })),
    )
    const study = await readPlan(trial.id, owner.today)
    expect(
      (
        await refusalOf((tx) =>
          release(tx, owner, trial.id, { version: study.version, orderIds: [study.orders[0]!.id] }),
        )
      ).detail,
    ).toBe('A trial plan releases nothing. Make it the working plan first.')
    await inTransaction((tx) => deletePlan(tx, trial.id))
    expect((await listPlans()).map((p) => p.name)).toEqual(['Orders'])
  })
  it('makes one purchase order a supplier, builds and break-downs, and plans anew on them', async () => {
    const { orders, version } = await plan()
    const tools = orders.filter((o) => o.supplier === 'Tully Threads and Tools')
    const others = ['CLOTH-NAVY', 'CLOTH-GREY', 'NB-A5-NAVY', 'GLUE-TUB'].map((code) =>
      orders.find((o) => o.code === code)!,
    )
    const chosen = [...tools, ...others]
    const { documents, version: next } = await inTransaction((tx) =>
      release(tx, owner, id, { version, orderIds: chosen.map((o) => o.id) }),
    )
    expect(documents.map((d) => d.kind).sort()).toEqual(['break-down', 'build', 'purchase order', 'purchase order'])
    const cloth = await loadPurchase(documents.find((d) => d.title.includes('Weftworks'))!.id)
    expect(cloth.lines.map((l) => `${l.code} ${l.entered} ${l.unit} ${l.quantity} ${l.value}`)).toEqual([
      'CLOTH-NAVY 13.2 m2 10 12540',
      'CLOTH-GREY 13.2 m2 10 12540',
    ])
    const again = await plan()
    expect(again.version).toBe(next)
    expect(again.orders.filter((o) => o.state === 'released')).toHaveLength(chosen.length)
    expect(
      again.orders.filter(
        (o) => o.state === 'proposed' && (o.code === 'CLOTH-NAVY' || o.code === 'NB-A5-NAVY' || o.code === 'GLUE-TUB'),
      ),
    ).toEqual([])
    expect((await refusalOf((tx) => release(tx, owner, id, { version: next, orderIds: [chosen[0]!.id] }))).code).toBe(
      'not-now',
    )
  })
  it('a trial plan can be made the working one; there is one working plan', async () => {
    const trial = await inTransaction((tx) =>
      createPlan(tx, owner, NewPlan.parse({ name: 'Second', kind: 'trial', endsOn: '2026-11-30', forecastIds: [1] })),
    )
    await inTransaction((tx) => adoptPlan(tx, owner, trial.id))
    const kinds = await rows<{ name: string; kind: string }>(db, sql`select name, kind from plans order by id`)
    expect(kinds).toEqual([
      { name: 'Orders', kind: 'trial' },
      { name: 'Second', kind: 'working' },
    ])
  })
})

describe('structure', () => {
  it('explodes two levels and more, with yield and scrap: 24 blocks at 96 % want 25; thread 25 × 2.4 ÷ 0.96 = 62.5 m', async () => {
    const { rows: parts } = await explodeItem(
      await idOf('items', 'NB-A5-RED'),
      ExplodeQuery.parse({ quantity: '24' }),
      '2026-10-05',
    )
    const findByCode = (code: string) => parts.find((p) => p.code === code)?.quantity
    expect([
      findByCode('BLOCK-A5'),
      findByCode('QUIRE-A5'),
      findByCode('THREAD'),
      findByCode('CLOTH-RED'),
      findByCode('PAPER-100'),
    ]).toEqual(['24', '200', '62.5', '11.04', '200'])
  })
  it('glue: 24 × 4 g ÷ 0.96 + 24 × 6 g + 24 × 2 g = 292 g, in tubs', async () => {
    const { rows: parts } = await explodeItem(
      await idOf('items', 'NB-A5-RED'),
      ExplodeQuery.parse({ quantity: '2 dozen', unit: 'dozen' }),
      '2026-10-05',
    )
    expect(parts.find((p) => p.code === 'GLUE-TUB')?.quantity).toBe('0.292')
  })
  it('where the navy cloth is used', async () => {
    const used = await whereUsedOf(await idOf('items', 'CLOTH-NAVY'), '2026-10-05')
    expect(used.map((u) => `${u.code} ${u.quantity} ${u.level}`)).toEqual(['CASE-A5-NAVY 0.46 1', 'NB-A5-NAVY 0.46 2'])
  })
})
