import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { reverse } from '~~/server/ledger/reverse'
import { decide } from '~~/server/services/inspection/decide'
import { listInspections } from '~~/server/services/inspection/list-inspections'
import { loadInspection } from '~~/server/services/inspection/load-inspection'
import { changePlan, createPlan, loadPlans, retirePlan } from '~~/server/services/inspection/plans'
import { plansFor } from '~~/server/services/inspection/plans-for'
import { recordResults } from '~~/server/services/inspection/record-results'
import { runCharts } from '~~/server/services/inspection/run-chart'
import { receive } from '~~/server/services/purchasing/goods-in'
import { loadPurchase } from '~~/server/services/purchasing/load-purchase'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { recordReturn } from '~~/server/services/purchasing/returns'
import { moveStock } from '~~/server/services/stock/correct'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { InspectionPlanEdit, InspectionQuery, type DecideInspection } from '~~/shared/inspection/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { ownSuppliers, sound } from './purchase-helpers'
import { balanceTexts, here, make, withPlaces } from './stock-helpers'

withDemo()
withPlaces()
let supplierId = 0
beforeAll(async () => {
  supplierId = (await ownSuppliers())[0]!
})

const THICKNESS = { name: 'Thickness', kind: 'measured', unit: 'mm', low: '1.9', high: '2.1' } as const
const CLEAN = { name: 'Clean', kind: 'yes or no' } as const
const planOf = (edit: object): InspectionPlanEdit =>
  InspectionPlanEdit.parse({
    name: 'Board',
    rule: { kind: 'number', number: 3 },
    characteristics: [THICKNESS],
    ...edit,
  })
const planned = (edit: object) => inTransaction((tx) => createPlan(tx, owner, planOf(edit)))

/** So much of an item ordered and received, on lots that its line brings. */
async function received(itemId: number, ...lots: { quantity: string; lot: string; pieces?: string[] }[]) {
  const whole = lots.reduce((sum, lot) => sum + Number(lot.quantity), 0)
  const line = { itemId, quantity: typedQuantity(String(whole)), unit: 'piece', price: '4.00', dueOn: '2026-10-20' }
  const { id } = await inTransaction((tx) => createPurchase(tx, owner, { supplierId, note: '', lines: [line] }))
  const [ordered] = (await loadPurchase(id)).lines
  const done = await inTransaction((tx) =>
    receive(tx, owner, id, {
      version: 1,
      packingList: '',
      lines: lots.map(({ quantity, lot, pieces = [] }) => ({
        lineId: ordered!.id,
        quantity: pieces.length > 0 ? typedQuantity('') : typedQuantity(quantity),
        unit: 'piece',
        binId: here.shelf,
        lot,
        expiresOn: null,
        pieces: pieces.map((piece) => ({ quantity: typedQuantity(piece), unit: 'piece', label: '', lot, traits: {} })),
      })),
    }),
  )
  return { ...done, orderId: id, lineId: ordered!.id }
}
const found = async (id: number, ...samples: string[][]) =>
  inTransaction(async (tx) =>
    recordResults(tx, owner, id, {
      version: (await loadInspection(id)).version,
      samples,
      instrument: 'caliper 3',
      pictureId: null,
    }),
  )
const decision = async (id: number, edit: Partial<DecideInspection>) => ({
  version: (await loadInspection(id)).version,
  decision: 'accepted' as const,
  reason: '',
  pieceIds: [],
  ...edit,
})
const decided = async (id: number, edit: Partial<DecideInspection> = {}) => {
  const whole = await decision(id, edit)
  return inTransaction((tx) => decide(tx, owner, id, whole))
}

describe('which plan goods are inspected by', () => {
  it('is the item’s own, else that of its group, else the supplier’s; none that is retired', async () => {
    const own = await make('IP-OWN')
    const grouped = await make('IP-GROUP')
    const groupId = await idOf('item_groups', 'CLOTH')
    const other = await make('IP-OTHER', { groupId: await idOf('item_groups', 'BOARD') })
    await planned({ code: 'P-OWN', itemId: own })
    const ofGroup = await planned({ code: 'P-GROUP', groupId })
    const ofSupplier = await planned({ code: 'P-SUPPLIER', supplierId })
    const codes = async () => {
      const plans = await plansFor(db, 'receipts', [own, grouped, other], supplierId)
      return [own, grouped, other].map((id) => plans.get(id)?.code)
    }
    expect(await codes()).toEqual(['P-OWN', 'P-GROUP', 'P-SUPPLIER'])
    expect((await plansFor(db, 'receipts', [other])).size).toBe(0)
    expect((await plansFor(db, 'builds', [own])).size).toBe(0)
    await inTransaction((tx) => retirePlan(tx, owner, ofGroup.id, { version: 1, retired: true }))
    await inTransaction((tx) => retirePlan(tx, owner, ofSupplier.id, { version: 1, retired: true }))
    expect(await codes()).toEqual(['P-OWN', undefined, undefined])
  })

  it('is refused without limits, for nothing or for two things, and with a code that another has', async () => {
    const refused = (edit: object) =>
      InspectionPlanEdit.safeParse({ ...planOf({ code: 'P-X', supplierId }), ...edit }).error?.issues[0]?.message
    expect(refused({ supplierId: null })).toMatch(/Choose one item, one group or one supplier/)
    expect(refused({ itemId: 1 })).toMatch(/Choose one item, one group or one supplier/)
    expect(refused({ characteristics: [{ ...THICKNESS, low: '', high: '' }] })).toMatch(/Give a lower limit/)
    expect(refused({ characteristics: [{ ...THICKNESS, low: '3' }] })).toMatch(/below the lower one/)
    expect(refused({ onReceipts: false })).toMatch(/when they come in/)
    expect((await refusalOf((tx) => createPlan(tx, owner, planOf({ code: 'p-own', supplierId })))).fields).toEqual({
      code: 'There is a plan “p-own” already.',
    })
  })
})

describe('goods that are inspected', () => {
  it('wait on hold, lot by lot, and leave it only by the decision; all of it can be taken back', async () => {
    const item = await make('IN-LOTS', { tracking: 'lot' })
    await planned({ code: 'P-LOTS', itemId: item, characteristics: [THICKNESS, CLEAN] })
    const { inspections, orderId, postingId } = await received(
      item,
      { quantity: '20', lot: 'A' },
      { quantity: '5', lot: 'B' },
    )
    expect(inspections.map(({ code, lot }) => `${code} ${lot}`)).toEqual(['IN-LOTS A', 'IN-LOTS B'])
    expect(await balanceTexts(item)).toEqual(['Shelf A (A) 20 on hold', 'Shelf A (B) 5 on hold'])
    const [a, b] = inspections
    const move = { itemId: item, fromBinId: here.shelf, toBinId: here.shelf, lot: 'A', quantity: typedQuantity('1') }
    const moved = await refusalOf((tx) =>
      moveStock(tx, owner, { ...move, unit: 'piece', status: 'on hold', toStatus: 'available' }),
    )
    expect(moved.fields?.toStatus).toBe(`This waits for inspection ${a!.number}, which says what becomes of it.`)
    const [lot] = await rows<{ id: number }>(db, sql`select id from lots where item_id = ${item} and number = 'A'`)
    const back = await refusalOf(async (tx) => {
      const { version, lines } = await loadPurchase(orderId)
      const where = { binId: here.shelf, lotId: lot!.id, pieceId: null, status: 'on hold' as const }
      const what = { lineId: lines[0]!.id, quantity: typedQuantity('1'), unit: 'piece', reason: 'torn', reference: '' }
      return recordReturn(tx, owner, orderId, { version, ...what, ...where, expects: 'credit' })
    })
    expect(back.fields?.binId).toMatch(/This waits for inspection/)
    // In another bin they wait as well.
    await inTransaction((tx) =>
      moveStock(tx, owner, {
        ...move,
        quantity: typedQuantity('4'),
        toBinId: here.rack,
        unit: 'piece',
        status: 'on hold',
      }),
    )

    const open = await refusalOf(async (tx) => decide(tx, owner, a!.id, await decision(a!.id, {})))
    expect(open.fields?.decision).toMatch(/^3 of 3 are not recorded yet/)
    expect((await refusalOf(() => found(a!.id, ['2,0', 'maybe']))).fields).toEqual({
      'samples.0.1': 'Say yes or no for Clean.',
    })
    await found(a!.id, ['2,0', 'Y'], ['1.9', 'yes'], ['2.1', 'x'])
    const done = await decided(a!.id)
    expect(done).toMatchObject({ accepted: '20', rejected: '0' })
    expect(await balanceTexts(item)).toEqual([
      'Shelf A (A) 16 available',
      'Shelf A (B) 5 on hold',
      'Cloth rack (A) 4 available',
    ])

    await found(b!.id, ['2.0', 'yes'], ['2.2', 'yes'], ['2.0', 'no'])
    const failed = await refusalOf(async (tx) => decide(tx, owner, b!.id, await decision(b!.id, {})))
    expect(failed.fields?.decision).toMatch(/^2 of 3 failed; at most 0 may\./)
    expect(
      (await refusalOf(async (tx) => decide(tx, owner, b!.id, await decision(b!.id, { decision: 'sorted' })))).fields,
    ).toEqual({ reason: 'Say why: whoever asks later reads it here.' })
    const tooMuch = await decision(b!.id, { decision: 'sorted', reason: 'bent', accepted: typedQuantity('5') })
    expect((await refusalOf((tx) => decide(tx, owner, b!.id, tooMuch))).fields?.accepted).toMatch(/^5 .*wait here/)
    const sorted = await decided(b!.id, { decision: 'sorted', reason: 'bent', accepted: typedQuantity('3') })
    expect(sorted).toMatchObject({ accepted: '3', rejected: '2' })
    expect(await balanceTexts(item)).toEqual([
      'Shelf A (A) 16 available',
      'Shelf A (B) 3 available',
      'Shelf A (B) 2 damaged',
      'Cloth rack (A) 4 available',
    ])
    expect(
      (await listInspections(InspectionQuery.parse({ item }), owner.today)).rows.map((row) => row.decision),
    ).toEqual(['sorted', 'accepted'])
    expect((await loadPlans()).find(({ code }) => code === 'P-LOTS')).toMatchObject({ inspected: 2, rejected: 1 })

    expect((await refusalOf((tx) => reverse(tx, owner, postingId!))).detail).toMatch(/decided on these goods/)
    await inTransaction((tx) => reverse(tx, owner, sorted.postingId!))
    await inTransaction((tx) => reverse(tx, owner, done.postingId!))
    expect(await loadInspection(b!.id)).toMatchObject({
      status: 'open',
      decision: null,
      failed: 2,
      instrument: 'caliper 3',
    })
    await inTransaction((tx) =>
      moveStock(tx, owner, {
        ...move,
        quantity: typedQuantity('4'),
        fromBinId: here.rack,
        unit: 'piece',
        status: 'on hold',
      }),
    )
    await inTransaction((tx) => reverse(tx, owner, postingId!))
    expect(await balanceTexts(item)).toEqual([])
    expect((await loadInspection(a!.id)).status).toBe('taken back')
    await sound()
  })

  it('without lots are told apart by how many came; what lay on hold besides can go', async () => {
    const item = await make('IN-PLAIN')
    await received(item, { quantity: '7', lot: '' })
    const held = { itemId: item, fromBinId: here.shelf, toBinId: here.shelf, lot: '', unit: 'piece' }
    const from = (status: 'available' | 'on hold', toStatus: 'available' | 'on hold', quantity: string) =>
      inTransaction((tx) => moveStock(tx, owner, { ...held, quantity: typedQuantity(quantity), status, toStatus }))
    await from('available', 'on hold', '2')
    await planned({ code: 'P-PLAIN', itemId: item, rule: { kind: 'all' } })
    const { inspections } = await received(item, { quantity: '3', lot: '' })
    await expect(from('on hold', 'available', '3')).rejects.toThrow(/Only the 2 .* beside it can be taken/)
    await from('on hold', 'available', '2')
    await decided(inspections[0]!.id, { decision: 'rejected', reason: 'wet' })
    expect(await balanceTexts(item)).toEqual(['Shelf A 7 available', 'Shelf A 3 damaged'])
  })

  it('in pieces are sorted piece by piece', async () => {
    const item = await make('IN-PIECES', { tracking: 'piece', finestStep: '0.01' })
    await planned({ code: 'P-PIECES', itemId: item, rule: { kind: 'all' } })
    const { inspections } = await received(item, { quantity: '30', lot: '', pieces: ['10', '12', '8'] })
    expect(inspections).toHaveLength(1)
    const { id } = inspections[0]!
    const page = await loadInspection(id)
    expect(page).toMatchObject({
      quantity: '30',
      sampleSize: 3,
      goods: [{ quantity: '10' }, { quantity: '12' }, { quantity: '8' }],
    })
    const pieceIds = page.goods.slice(0, 2).map((piece) => piece.pieceId!)
    const all = await decision(id, { decision: 'sorted', reason: 'torn', pieceIds: page.goods.map((p) => p.pieceId!) })
    expect((await refusalOf((tx) => decide(tx, owner, id, all))).fields?.pieceIds).toMatch(/some, but not all/)
    expect(await decided(id, { decision: 'sorted', reason: 'torn', pieceIds })).toMatchObject({
      accepted: '22',
      rejected: '8',
    })
  })

  it('are looked at by ISO 2859-1: 500 by level II and a limit of 1.0 are accepted with one that fails', async () => {
    const item = await make('IN-ISO')
    const rule = { kind: 'iso 2859-1', level: 'II', limit: '1.0', severity: 'normal' }
    const plan = await planned({ code: 'P-ISO', itemId: item, rule })
    const { inspections } = await received(item, { quantity: '500', lot: '' })
    const { id } = inspections[0]!
    expect(await loadInspection(id)).toMatchObject({ letter: 'H', sampleSize: 50, accept: 1 })
    const good = Array.from({ length: 48 }, (_, index) => [`2.0${index % 10}`])
    await found(id, ...good, ['2.5'], ['2.6'])
    await expect(decided(id)).rejects.toThrow(/2 of 50 failed; at most 1 may/)
    await found(id, ...good, ['2.5'], ['2.0'])
    expect(await decided(id)).toMatchObject({ accepted: '500' })
    const [chart] = await runCharts(plan.id, item)
    expect(chart).toMatchObject({ name: 'Thickness', unit: 'mm', low: '1.9', high: '2.1' })
    expect(chart!.values).toHaveLength(50)
    expect(chart!.values.filter(({ verdict }) => verdict === 'fail').map(({ value }) => value)).toEqual(['2.5'])
  })

  it('keep the plan by which they were opened, whatever becomes of it', async () => {
    const item = await make('IN-KEEPS')
    const edit = planOf({ code: 'P-KEEPS', itemId: item })
    const { id: planId } = await inTransaction((tx) => createPlan(tx, owner, edit))
    const { inspections } = await received(item, { quantity: '4', lot: '' })
    const wider = { ...edit, characteristics: [{ ...THICKNESS, high: '9' }], version: 1 }
    await inTransaction((tx) => changePlan(tx, owner, planId, wider))
    expect((await loadInspection(inspections[0]!.id)).plan.characteristics[0]!.high).toBe('2.1')
    expect((await refusalOf((tx) => changePlan(tx, owner, planId, wider))).code).toBe('stale-version')
  })

  it('come out of a build too, where the plan says so', async () => {
    const itemId = await idOf('items', 'NB-POCKET')
    await planned({ code: 'P-BUILT', itemId, onReceipts: false, onBuilds: true, characteristics: [CLEAN] })
    const build = await inTransaction((tx) =>
      createBuild(tx, owner, { itemId, quantity: typedQuantity('1'), unit: 'piece', dueOn: '2026-10-20' }),
    )
    const { inspections, postingId } = await inTransaction((tx) =>
      completeBuild(tx, owner, build.id, {
        version: 1,
        binId: here.shelf,
        lot: '',
        expiresOn: null,
        withSubAssemblies: true,
      }),
    )
    expect(inspections).toHaveLength(1)
    expect(await loadInspection(inspections[0]!.id)).toMatchObject({ buildId: build.id, quantity: '1', status: 'open' })
    await inTransaction((tx) => reverse(tx, owner, postingId))
    expect((await loadInspection(inspections[0]!.id)).status).toBe('taken back')
    await sound()
  })
})
