import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { find } from '~~/server/services/catalogue/find'
import { importInto } from '~~/server/services/company/import-company'
import { inTransaction } from '~~/server/database/transactions'
import { takeSnapshot } from '~~/server/services/planning/snapshot'
import { correct, moveStock } from '~~/server/services/stock/correct'
import { createCount } from '~~/server/services/stock/counts'
import { loadLot, loadPiece } from '~~/server/services/stock/detail'
import { editPiece, splitPiece } from '~~/server/services/stock/pieces'
import { createTransfer } from '~~/server/services/stock/transfers'
import { todayLines } from '~~/server/services/today/today'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()

describe('the stock of the demo is met elsewhere', () => {
  it.each([
    ['MG-31/2', 'piece', 'MG-31/2'],
    ['S-6608', 'lot', 'S-6608'],
    ['TR-0001', 'transfer', 'TR-0001'],
    ['sc-0002', 'stock count', 'SC-0002'],
  ])('find leads from %s to the %s', async (text, kind, code) => {
    expect((await find(text))[0]).toMatchObject({ kind, code })
  })
  it('Today says what is on its way, and with what to receive it', async () => {
    const { lines } = await todayLines(owner.today)
    expect(lines.find((line) => line.title.startsWith('TR-0001'))).toMatchObject({
      area: 'stock',
      act: 'Receive',
      detail: '40 pc MAILER-A5, 3 roll TAPE-PAPER',
      day: '2026-10-06',
    })
  })
  it('the plan counts on it for the day on which it is due', async () => {
    const input = await takeSnapshot(db, {
      start: '2026-10-05',
      end: '2026-11-30',
      demandRule: 'larger',
      forecastIds: [],
      forecastFalls: 'first day',
    } as Parameters<typeof takeSnapshot>[1])
    expect(input.supplies.filter((supply) => supply.kind === 'transfer')).toMatchObject([
      {
        node: `${await idOf('items', 'MAILER-A5')}@${await idOf('sites', 'PARKSIDE')}`,
        day: '2026-10-06',
        quantity: 40,
        label: 'TR-0001',
      },
      { quantity: 3 },
    ])
    // The tape has not left: the workshop gives it, Parkside gets it.
    expect(input.demands.filter((demand) => demand.kind === 'transfer')).toMatchObject([
      { node: String(await idOf('items', 'TAPE-PAPER')), day: '2026-10-02', quantity: 3 },
    ])
  })
  it('a lot and a piece tell all that is recorded of them', async () => {
    const [piece] = await rows<{ id: number; lot: number }>(
      db,
      sql`select id, lot_id as lot from pieces where label = 'TAN-2'`,
    )
    expect(await loadPiece(piece!.id)).toMatchObject({
      label: 'TAN-2',
      original: '11.5',
      remaining: '11.5',
      lot: 'T-0926',
      traits: { grade: 'first', thickness: '1.3' },
      cut: [],
    })
    const lot = await loadLot(piece!.lot)
    expect(lot.pieces.map((piece) => [piece.label, piece.remaining])).toEqual([
      ['TAN-1', '14.25'],
      ['TAN-2', '11.5'],
      ['TAN-3', '9.75'],
    ])
    expect(lot.rules.map((rule) => rule.name)).toEqual(['dye lot', 'grade', 'thickness', 'usable width'])
  })
})

describe('what cannot be is refused beside its field, and nothing is half recorded', () => {
  const counted = async (): Promise<unknown> =>
    (
      await rows(
        db,
        sql`
          select
            (select count(*) from postings) as postings, (select count(*) from moves) as moves,
            (select count(*) from pieces) as pieces, (select count(*) from lots) as lots,
            (select count(*) from transfers) as transfers, (select count(*) from stock_counts) as counts`,
      )
    )[0]
  const piece = async (label: string): Promise<number> =>
    (await rows<{ id: number }>(db, sql`select id from pieces where label = ${label}`))[0]!.id
  const more = async (code: string, change: object = {}) => ({
    itemId: await idOf('items', code),
    binId: await idOf('places', 'SHELF-A'),
    lot: '',
    direction: 'more' as const,
    quantity: typedQuantity('1'),
    unit: 'ft2',
    reason: 'found' as const,
    unitCost: '',
    expiresOn: null,
    ...change,
  })
  it.each<[string, Parameters<typeof refusalOf>[0], string]>([
    [
      'a label that another item’s piece has',
      async (tx) => correct(tx, owner, await more('HIDE-TAN', { piece: 'MG-31/1' })),
      'piece',
    ],
    [
      'a trait that is no choice',
      async (tx) =>
        editPiece(tx, owner, await piece('TAN-1'), {
          version: 1,
          label: 'TAN-1',
          traits: { grade: 'fourth' },
          note: '',
        }),
      'traits.grade',
    ],
    [
      'a trait that is no number',
      async (tx) =>
        editPiece(tx, owner, await piece('TAN-1'), {
          version: 1,
          label: 'TAN-1',
          traits: { thickness: 'thin' },
          note: '',
        }),
      'traits.thickness',
    ],
    [
      'a label that is taken',
      async (tx) => editPiece(tx, owner, await piece('TAN-1'), { version: 1, label: 'TAN-2', traits: {}, note: '' }),
      'label',
    ],
    [
      'a cut whose second label is taken',
      async (tx) =>
        splitPiece(tx, owner, await piece('TAN-1'), {
          parts: [
            { quantity: typedQuantity('1'), unit: 'ft2', label: '', binId: null },
            { quantity: typedQuantity('1'), unit: 'ft2', label: 'TAN-3', binId: null },
          ],
        }),
      'parts.1.label',
    ],
    [
      'a move to where the goods are',
      async (tx) =>
        moveStock(tx, owner, {
          itemId: await idOf('items', 'BONE'),
          fromBinId: await idOf('places', 'SHELF-A'),
          toBinId: await idOf('places', 'SHELF-A'),
          lot: '',
          quantity: typedQuantity('1'),
          unit: 'piece',
        }),
      'toBinId',
    ],
    [
      'a transfer of nothing that is',
      async (tx) =>
        createTransfer(tx, owner, {
          fromSiteId: 1,
          toSiteId: 2,
          leavesOn: '2026-10-05',
          dueOn: null,
          note: '',
          lines: [{ itemId: 999_999, quantity: typedQuantity('1'), unit: 'piece' }],
        }),
      'lines.0.itemId',
    ],
    [
      'a count where nothing lies',
      async (tx) =>
        createCount(tx, owner, {
          name: 'Bench',
          kind: 'items',
          siteId: null,
          binIds: [],
          groupIds: [],
          itemIds: [await idOf('items', 'CLOTH-BLACK')],
          withNone: false,
          blind: true,
          recountOver: '',
        }),
      'kind',
    ],
  ])('%s', async (_, act, field) => {
    const before = await counted()
    expect(Object.keys((await refusalOf(act)).fields ?? {})).toEqual([field])
    expect(await counted()).toEqual(before)
  })
  it.each([
    [
      'counts.csv',
      'number,counted_on,item,bin,lot,piece,counted,unit,note\nNew,2026-10-01,BONE,RACK,,,1,piece,\n',
      'counts.csv line 2: BONE does not lie in RACK by the books.',
    ],
    [
      'opening-stock.csv',
      'item,bin,lot,quantity,unit,unit_cost,expires_on,traits\nHIDE-TAN,RACK,X,1,ft2,1,,grade first\n',
      'opening-stock.csv line 2: “grade first”: write traits as name = value, with semicolons between.',
    ],
  ])('a line of %s that cannot be, by file and line', async (name, text, detail) => {
    const before = await counted()
    expect((await refusalOf((tx) => importInto(tx, owner, new Map([[name, text]])))).detail).toBe(detail)
    expect(await counted()).toEqual(before)
  })
  it('a second act after a refusal goes through', async () => {
    await inTransaction(async (tx) => correct(tx, owner, await more('HIDE-TAN', { piece: 'TAN-9', lot: 'T-0926' })))
    expect((await loadPiece(await piece('TAN-9'))).remaining).toBe('1')
  })
})
