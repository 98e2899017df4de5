import { describe, expect, it } from 'vitest'
import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { comparePlans } from '~~/server/services/planning/compare'
import { editOrder, moveSupply } from '~~/server/services/planning/edit-order'
import { madeOf } from '~~/server/services/planning/made-of'
import { copyPlan, createPlan, editPlan, runPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { explainOrder } from '~~/server/services/planning/explain-order'
import { loadPlan } from '~~/server/services/planning/stored-plan'
import { NewPlan, OrderEdit, PlanScope } from '~~/shared/planning/requests'
import { naivePlan } from '../planning/naive-plan'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()

describe('settings, changes tried out, fixed orders', () => {
  const make = async (more: object = {}): Promise<number> =>
    (
      await inTransaction((tx) =>
        createPlan(
          tx,
          owner,
          NewPlan.parse({ name: 'Study', kind: 'trial', endsOn: '2026-12-31', demandRule: 'orders only', ...more }),
        ),
      )
    ).id
  const read = (plan: number) => readPlan(plan, owner.today)
  const ordersOf = async (plan: number, code: string): Promise<string[]> =>
    (await read(plan)).orders
      .filter((o) => o.code === code)
      .map((o) => `${o.kind} ${Number(o.quantity)} ${o.releaseOn}→${o.dueOn}`)

  it.each([
    [
      'an end before today',
      { endsOn: '2026-10-01' },
      'endsOn',
      'The plan begins today, 2026-10-05. Choose a later end.',
    ],
  ])('%s is refused beside its field', async (_, more, field, sentence) => {
    expect(
      (await refusalOf((tx) => createPlan(tx, owner, NewPlan.parse({ name: 'Wrong', kind: 'trial', ...more })))).fields,
    ).toEqual({ [field]: sentence })
  })
  it.each<[string, object, string]>([
    [
      'a forecast only, and none',
      { demandRule: 'forecast only' },
      'Nothing would be planned: choose a forecast, or let orders count.',
    ],
    ['groups, and none', { scope: { items: 'groups' } }, 'Choose at least one group.'],
    ['a product, and none', { scope: { items: 'product' } }, 'Choose the product.'],
    ['nothing left of a demand', { changes: [{ kind: 'demand', percent: -101 }] }, 'Nothing is left below −100 %.'],
    [
      'no quantity',
      { changes: [{ kind: 'more demand', itemId: 1, quantity: '0', day: '2026-10-20' }] },
      'Give a quantity above zero.',
    ],
  ])('%s is told', (_, more, sentence) => {
    const parsed = NewPlan.safeParse({ name: 'x', kind: 'trial', endsOn: '2026-12-31', ...more })
    expect(parsed.success ? [] : parsed.error.issues.map((issue) => issue.message)).toEqual([sentence])
  })
  it('one product’s tree is shown and proposed; everything is reckoned with', async () => {
    const navy = await idOf('items', 'NB-A5-NAVY')
    const study = await read(await make({ scope: { items: 'product', of: [navy] } }))
    const whole = await read(await make())
    expect(study.orders.map((o) => o.code)).not.toContain('KIT-FIRST')
    for (const order of study.orders) {
      expect(whole.orders).toContainEqual(
        expect.objectContaining({ code: order.code, quantity: order.quantity, dueOn: order.dueOn }),
      )
    }
    expect(study.figures.lines).toBe(1)
  })
  it('what does not count does not count: PO-0043 is not pulled in where purchase orders are left out', async () => {
    const without = await read(await make({ scope: { purchases: false } }))
    expect(without.messages.filter((m) => m.text.includes('PO-'))).toEqual([])
    expect((await read(await make({ scope: { pullIn: false } }))).messages.filter((m) => m.code === 'pull in')).toEqual(
      [],
    )
  })
  it('without its calendar the workshop builds at weekends: 2 working days before Friday 6 November', async () => {
    expect(await ordersOf(await make({ scope: { makingHeedsCalendar: false } }), 'NB-A5-NAVY')).toEqual([
      'make 20 2026-11-04→2026-11-06',
    ])
    // The case is due on 4 November; its three working days begin on Friday 30 October, or on Sunday the 1st where
    // every day counts.
    expect([
      await ordersOf(await make(), 'CASE-A5-NAVY'),
      await ordersOf(await make({ scope: { makingHeedsCalendar: false } }), 'CASE-A5-NAVY'),
    ]).toEqual([['make 20 2026-10-30→2026-11-04'], ['make 20 2026-11-01→2026-11-04']])
  })
  it('half the demand of an item: 24 become 12, 4 are there, 8 are built; the plan itself stays', async () => {
    const navy = await idOf('items', 'NB-A5-NAVY')
    expect(
      await ordersOf(await make({ changes: [{ kind: 'demand', percent: -50, itemId: navy }] }), 'NB-A5-NAVY'),
    ).toEqual(['make 8 2026-11-04→2026-11-06'])
    // Twice the cloth's lead time: 20 working days before Friday 30 October is Friday 2 October, which is over.
    const cloth = await idOf('items', 'CLOTH-NAVY')
    expect(
      await ordersOf(await make({ changes: [{ kind: 'lead time', days: 20, itemId: cloth }] }), 'CLOTH-NAVY'),
    ).toEqual(['buy 10 2026-10-05→2026-10-30'])
    expect(
      (
        await read(await make({ changes: [{ kind: 'more demand', itemId: navy, quantity: '6', day: '2026-11-06' }] }))
      ).orders
        .filter((o) => o.code === 'NB-A5-NAVY')
        .map((o) => o.quantity),
    ).toEqual(['26'])
  })
  it('a supplier who fails leaves his items without a source, or to the next by rank', async () => {
    const weft = (await rows<{ id: number }>(db, sql`select id from suppliers where code = 'WEFT'`))[0]!.id
    const study = await read(await make({ changes: [{ kind: 'supplier out', supplierId: weft }] }))
    expect(study.orders.filter((o) => o.supplier === 'Weftworks Cloth')).toEqual([])
    expect(study.messages.filter((m) => m.code === 'no source' || m.code === 'short').length).toBeGreaterThan(0)
    expect(study.figures.inTime).toBeLessThan((await read(await make())).figures.inTime)
  })
  it('prices and steps: 5 % more; steps of 50 m make 50 m of the 8 that are missing', async () => {
    const cloth = await idOf('items', 'CLOTH-NAVY')
    const [plain, dear, big] = [
      await make(),
      await make({ changes: [{ kind: 'price', percent: 10, itemId: cloth }] }),
      await make({ changes: [{ kind: 'batch', itemId: cloth, quantity: '50' }] }),
    ]
    const compared = await comparePlans([plain, dear, big])
    const spent = compared.plans.map((p) => p.spend.reduce((sum, expense) => sum + expense.amount, 0))
    // 13.2 m² at 9.50: 125.40, a tenth of it 12.54.
    expect(spent[1]! - spent[0]!).toBe(1254)
    expect(await ordersOf(big, 'CLOTH-NAVY')).toEqual(['buy 50 2026-10-16→2026-10-30'])
    expect(compared.suppliers).toMatchObject({
      [String((await rows<{ id: number }>(db, sql`select id from suppliers where code = 'WEFT'`))[0]!.id)]:
        'Weftworks Cloth',
    })
  })
  it('an order that is fixed stays as it is and moves what it needs, until it is let go', async () => {
    const plan = await make()
    const navy = (await read(plan)).orders.find((o) => o.code === 'NB-A5-NAVY')!
    const edit = async (order: { id: number }, more: object): Promise<unknown> =>
      inTransaction(async (tx) =>
        editOrder(
          tx,
          owner,
          { planId: plan, orderId: order.id },
          OrderEdit.parse({
            key: crypto.randomUUID(),
            version: (await read(plan)).version,
            quantity: '30',
            dueOn: '2026-10-30',
            ...more,
          }),
        ),
      )
    await edit(navy, {})
    expect(await ordersOf(plan, 'NB-A5-NAVY')).toEqual(['make 30 2026-10-28→2026-10-30'])
    // 30 × 0.46 = 13.8 m by the day of the case's release, of which 1.2 are there: 12.6, so three times 5 m.
    expect(await ordersOf(plan, 'CLOTH-NAVY')).toEqual(['buy 15 2026-10-09→2026-10-23'])
    await inTransaction((tx) => runPlan(tx, owner, plan))
    const fixed = (await read(plan)).orders.find((o) => o.code === 'NB-A5-NAVY')!
    expect(fixed).toMatchObject({ state: 'fixed', quantity: '30' })
    await expect(edit(fixed, { dueOn: '2026-10-01' })).rejects.toThrow('This day is over')
    await expect(edit(fixed, { dueOn: '2027-02-01' })).rejects.toThrow('beyond the plan')
    expect(
      (
        await refusalOf((tx) =>
          editOrder(
            tx,
            owner,
            { planId: plan, orderId: fixed.id },
            {
              version: 1,
              free: false,
              quantity: '3',
              dueOn: '2026-10-30',
              supplierId: null,
            },
          ),
        )
      ).code,
    ).toBe('stale-version')
    const copy = await inTransaction((tx) => copyPlan(tx, owner, plan, 'Copy'))
    expect(await ordersOf(copy.id, 'NB-A5-NAVY')).toEqual(['make 30 2026-10-28→2026-10-30'])
    await edit(fixed, { free: true })
    expect(await ordersOf(plan, 'NB-A5-NAVY')).toEqual(['make 20 2026-11-04→2026-11-06'])
  })
  it('an order fixed at another supplier is as late as that one makes it, is told with their name, and spends their price', async () => {
    const cloth = await idOf('items', 'CLOTH-NAVY')
    const [glue] = await rows<{ id: number; name: string }>(
      db,
      sql`select id, name from suppliers where name = 'Sealand Adhesives'`,
    )
    await rows(
      db,
      sql`
        insert into supplier_terms (item_id, supplier_id, rank, unit, price, minimum, multiple, lead_days)
        values (${cloth}, ${glue!.id}, 9, 'm', 100, 0, 0, 60)`,
    )
    const plan = await make()
    const order = (await read(plan)).orders.find((o) => o.code === 'CLOTH-NAVY')!
    expect(order.supplier).toBe('Weftworks Cloth')
    await inTransaction(async (tx) =>
      editOrder(
        tx,
        owner,
        { planId: plan, orderId: order.id },
        OrderEdit.parse({
          key: crypto.randomUUID(),
          version: (await read(plan)).version,
          quantity: order.quantity,
          dueOn: order.dueOn,
          supplierId: glue!.id,
        }),
      ),
    )
    const after = await read(plan)
    const fixed = after.orders.find((o) => o.code === 'CLOTH-NAVY')!
    // 60 working days before Friday 30 October is Friday 7 August, 41 before the start; 60 after Monday 5 October would
    // be Monday 28 December, but the bindery is closed on the six working days from the 24th to the 31st: Tuesday 5
    // January.
    expect([order.dueOn, order.lateBy, fixed.supplier, fixed.lateBy, fixed.promisedOn]).toEqual([
      '2026-10-30',
      0,
      glue!.name,
      41,
      '2027-01-05',
    ])
    expect(await explainOrder(plan, fixed.id)).toMatchObject({ supplier: glue!.name, leadDays: 60, fixed: true })
    expect(
      after.figures.spend
        .filter((expense) => expense.supplier === String(glue!.id))
        .reduce((sum, expense) => sum + expense.amount, 0),
    ).toBeGreaterThanOrEqual(Number(order.quantity) * 100 * 100)
    await rows(db, sql`delete from supplier_terms where item_id = ${cloth} and supplier_id = ${glue!.id}`)
  })
  it('a pull-in is acted on: the purchase order’s day changes, and the message is gone', async () => {
    const plan = await make()
    const message = (await read(plan)).messages.find((m) => m.code === 'pull in')!
    expect(message).toMatchObject({ day: '2026-11-06', supply: { label: 'PO-0043', from: '2026-11-12' } })
    const done = await inTransaction(async (tx) =>
      moveSupply(tx, owner, plan, {
        version: (await read(plan)).version,
        supply: message.supply!.id,
        dueOn: message.day,
      }),
    )
    expect(done).toMatchObject({ number: 'PO-0043', before: '2026-11-12', after: '2026-11-06' })
    expect((await read(plan)).messages.filter((m) => m.supply?.label === 'PO-0043')).toEqual([])
    await inTransaction(async (tx) =>
      moveSupply(tx, owner, plan, {
        version: (await read(plan)).version,
        supply: message.supply!.id,
        dueOn: '2026-11-12',
      }),
    )
  })
  it('a figure opens into what it is made of', async () => {
    const [plan, cloth] = [await make(), String(await idOf('items', 'CLOTH-NAVY'))]
    const week = await madeOf(plan, cloth, '2026-10-26', '2026-11-01')
    expect(week).toMatchObject({ code: 'CLOTH-NAVY', before: '1.2 m', after: '2 m' })
    expect(week.parts.map((p) => `${p.line} ${p.day} ${p.label} ${p.quantity}`)).toEqual([
      'wanted 2026-10-30 Build 20 pc CASE-A5-NAVY 9.2 m',
      'planned 2026-10-30 Buy 10 m',
    ])
    expect(
      (await madeOf(plan, cloth, '2026-10-12', '2026-10-18')).parts.map((p) => `${p.line} ${p.day} ${p.label}`),
    ).toEqual(['released 2026-10-16 Buy, due 30 Oct'])
    const foil = await madeOf(plan, String(await idOf('items', 'FOIL-GOLD')), '2026-11-02', '2026-11-08')
    expect(foil.parts.filter((p) => p.line === 'coming').map((p) => p.label)).toEqual([
      'PO-0043, pulled in from 12 Nov',
    ])
    await expect(madeOf(plan, '99999', '2026-10-19', '2026-10-25')).rejects.toThrow('no such item')
  })
  it('a plan that was stored before there were rules, prices and settings is still read', async () => {
    const plan = await make()
    await rows(
      db,
      sql`
        update plans
        set
          scope = '{}', changes = '[]',
          output = jsonb_set(
            output, '{orders}',
            (
              select jsonb_agg(o #- '{why,byRule}' #- '{why,ruleSize}')
              from jsonb_array_elements(output->'orders') o
            )
          ),
          input = jsonb_set(
            input, '{nodes}',
            (
              select jsonb_agg((n - 'worth' - 'others' - 'rule') #- '{source,prices}')
              from jsonb_array_elements(input->'nodes') n
            )
          )
        where id = ${plan}`,
    )
    const { orders, figures } = await read(plan)
    expect(figures.late).toBeGreaterThan(0)
    const why = await explainOrder(plan, orders[0]!.id)
    expect(why.byRule).toBe(why.netRequirement)
    expect((await comparePlans([plan])).plans[0]!.spend.every((expense) => expense.amount === 0)).toBe(true)
  })
  it('settings are changed and the version is heeded', async () => {
    const plan = await make()
    const { version } = await read(plan)
    const edit = {
      name: 'Shorter',
      note: 'until the fair',
      endsOn: '2026-10-31',
      demandRule: 'orders only' as const,
      forecastFalls: 'first day' as const,
      forecastIds: [],
      scope: PlanScope.parse({}),
      changes: [],
    }
    await inTransaction((tx) => editPlan(tx, owner, plan, { ...edit, version }))
    expect(await read(plan)).toMatchObject({ name: 'Shorter', note: 'until the fair', endsOn: '2026-10-31' })
    expect(await ordersOf(plan, 'NB-A5-NAVY')).toEqual([])
    expect((await refusalOf((tx) => editPlan(tx, owner, plan, { ...edit, version }))).code).toBe('stale-version')
  })
  it('the rules of an item size its orders: 40 navy notebooks at once, or all that is missing in 60 days', async () => {
    const navy = await idOf('items', 'NB-A5-NAVY')
    await rows(db, sql`update items set order_rule = 'fixed', usual_order = 40 where id = ${navy}`)
    const fixed = await make()
    expect(await ordersOf(fixed, 'NB-A5-NAVY')).toEqual(['make 40 2026-11-04→2026-11-06'])
    const order = (await read(fixed)).orders.find((o) => o.code === 'NB-A5-NAVY')!
    expect(await explainOrder(fixed, order.id)).toMatchObject({
      rule: 'fixed',
      ruleSize: '40 pc',
      byRule: '40 pc',
      netRequirement: '20 pc',
      balanceAfter: '20 pc',
    })
    await rows(db, sql`update items set order_rule = 'exact', maximum_order = 12 where id = ${navy}`)
    expect(await ordersOf(await make(), 'NB-A5-NAVY')).toEqual([
      'make 12 2026-11-04→2026-11-06',
      'make 8 2026-11-04→2026-11-06',
    ])
    await rows(db, sql`update items set maximum_order = null where id = ${navy}`)
  })
  it('the demo, netted by the slow twin: the same orders (every item, to the end of the year)', async () => {
    const { input, output } = await loadPlan(db, await make({ demandRule: 'larger', forecastIds: [1] }))
    const print = (list: readonly { node: string; quantity: number; release: string; due: string }[]): string[] =>
      list.map((o) => `${o.node} ${o.quantity} ${o.release} → ${o.due}`).sort()
    expect(print(naivePlan(input).orders)).toEqual(print(output.orders))
    expect(output.orders.length).toBeGreaterThan(100)
  })
})
