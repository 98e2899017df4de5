import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import {
  cancelCutting,
  createCutting,
  editCutting,
  listCutting,
  loadCutting,
} from '~~/server/services/workshop/cutting'
import { acceptCutting, undoCutting } from '~~/server/services/workshop/cut-pieces'
import { CuttingEdit } from '~~/shared/workshop/cutting'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

describe('cutting', () => {
  const items = { cloth: 0 }
  const measured = async (): Promise<string[]> =>
    (
      await rows<{ sentence: string }>(
        db,
        sql`
          select c.label || ' ' || trim_scale(b.on_hand)::text || coalesce(' ' || l.number, '') as sentence
          from balances b
          join pieces c on c.id = b.piece_id
          left join lots l on l.id = c.lot_id
          where b.item_id = ${items.cloth} and b.on_hand > 0
          order by c.id`,
      )
    ).map((row) => row.sentence)
  const edit = (version: number, more: object) =>
    CuttingEdit.parse({
      version,
      dueOn: '2026-10-07',
      note: '',
      kerf: '',
      kerfUnit: 'cm',
      keep: '1',
      keepUnit: 'm',
      oneLot: true,
      plan: null,
      wanted: [],
      ...more,
    })
  beforeAll(async () => {
    items.cloth = await make('WC-CLOTH', {
      stockUnit: 'm',
      buyingUnit: 'm',
      sellingUnit: 'm',
      finestStep: '0.01',
      tracking: 'piece',
    })
    for (const [label, length, lot] of [
      ['R1', '10', 'DYE-1'],
      ['R2', '6', 'DYE-2'],
      ['R3', '7', 'DYE-2'],
    ] as const) {
      await open(items.cloth, length, '5.00', { unit: 'm', piece: label, lot })
    }
  })
  it('cuts lengths from rolls as planned; each points back, offcuts stay, what is short is borne by the lengths; it is undone whole', async () => {
    const { id } = await inTransaction((tx) =>
      createCutting(tx, owner, { itemId: items.cloth, siteId: here.workshop, dueOn: '2026-10-07', note: '' }),
    )
    const wanted = [
      { job: 'red', quantity: '250', unit: 'cm', count: 2 },
      { job: 'red', quantity: '3', unit: 'm', count: 1 },
      { job: 'blue', quantity: '2.6', unit: 'm', count: 1 },
    ]
    await inTransaction((tx) => editCutting(tx, owner, id, edit(1, { wanted })))
    const job = await loadCutting(id)
    expect(job.stock.map((piece) => [piece.label, piece.free, piece.lot])).toEqual([
      ['R2', '6', 'DYE-2'],
      ['R3', '7', 'DYE-2'],
      ['R1', '10', 'DYE-1'],
    ])
    expect(job.wanted.map((cut) => cut.quantity)).toEqual(['2.5', '3', '2.6'])
    const [r2, r3] = job.stock
    expect((await refusalOf((tx) => acceptCutting(tx, owner, id, { version: 2, binId: null }))).detail).toBe(
      'Nothing is planned to be cut yet. Have it proposed, or put lengths on pieces.',
    )
    // R2: 2.5 + 2.6 = 5.1, 0.9 lost; R3: 2.5 + 3 = 5.5, 1.5 stays
    const plan = {
      bound: '0',
      isExact: false,
      cuts: [
        { pieceId: r2!.pieceId, parts: [0, 2] },
        { pieceId: r3!.pieceId, parts: [0, 1] },
      ],
    }
    await inTransaction((tx) =>
      editCutting(tx, owner, id, edit(2, { wanted, plan: { ...plan, cuts: plan.cuts.slice(0, 1) } })),
    )
    expect((await refusalOf((tx) => acceptCutting(tx, owner, id, { version: 3, binId: null }))).detail).toBe(
      'The plan leaves lengths out: 1 of 250 cm, 1 of 3 m.',
    )
    await inTransaction((tx) => editCutting(tx, owner, id, edit(3, { wanted, plan })))
    const done = await inTransaction((tx) => acceptCutting(tx, owner, id, { version: 4, binId: null }))
    expect([done.labels.length, done.lost]).toEqual([4, '0.9'])
    expect((await measured()).map((text) => text.replace(/^WC-CLOTH-\d+/, 'new'))).toEqual([
      'R1 10 DYE-1',
      'R3 1.5 DYE-2',
      'new 2.5 DYE-2',
      'new 2.6 DYE-2',
      'new 2.5 DYE-2',
      'new 3 DYE-2',
    ])
    expect((await loadCutting(id)).made.map((entry) => [entry.note, entry.from])).toEqual([
      ['red', 'R2'],
      ['blue', 'R2'],
      ['red', 'R3'],
      ['red', 'R3'],
    ])
    // 6 m of R2 cost 30.00, borne by 2.5 and 2.6: 14.71 and 15.29; nothing is lost of the value
    expect([await onHand('WC-CLOTH'), await valueOf('WC-CLOTH')]).toEqual(['22.1', '11500'])
    await inTransaction((tx) => undoCutting(tx, owner, id, 5))
    expect([await measured(), await valueOf('WC-CLOTH'), (await loadCutting(id)).status]).toEqual([
      ['R1 10 DYE-1', 'R2 6 DYE-2', 'R3 7 DYE-2'],
      '11500',
      'draft',
    ])
  })
  it('a plan that does not fit is refused; a roll that was cut meanwhile too; only lengths in pieces are planned', async () => {
    const { id } = await inTransaction((tx) =>
      createCutting(tx, owner, { itemId: items.cloth, siteId: here.workshop, dueOn: '2026-10-07', note: '' }),
    )
    const [r2] = (await loadCutting(id)).stock
    const wanted = [{ job: '', quantity: '3.5', unit: 'm', count: 2 }]
    await inTransaction((tx) =>
      editCutting(
        tx,
        owner,
        id,
        edit(1, { wanted, plan: { bound: '0', isExact: false, cuts: [{ pieceId: r2!.pieceId, parts: [0, 0] }] } }),
      ),
    )
    expect((await refusalOf((tx) => acceptCutting(tx, owner, id, { version: 2, binId: null }))).detail).toBe(
      'R2 measures 6 m, which is less than what the plan cuts from it. Have the cuts proposed anew.',
    )
    expect(
      (
        await refusalOf((tx) =>
          editCutting(tx, owner, id, edit(2, { wanted: [{ job: '', quantity: 'three', unit: 'm', count: 1 }] })),
        )
      ).fields,
    ).toHaveProperty('wanted.0.quantity')
    await inTransaction((tx) => cancelCutting(tx, owner, id, 2))
    expect((await listCutting()).find((job) => job.id === id)).toMatchObject({ status: 'cancelled', lengths: 2 })
    for (const code of ['AWL', 'HIDE-TAN']) {
      expect(
        (
          await refusalOf(async (tx) =>
            createCutting(tx, owner, {
              itemId: await idOf('items', code),
              siteId: here.workshop,
              dueOn: '2026-10-07',
              note: '',
            }),
          )
        ).fields,
      ).toHaveProperty('itemId')
    }
  })
})
