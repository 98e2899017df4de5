import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { inTransaction } from '~~/server/database/transactions'
import { traceGoods } from '~~/server/services/stock/genealogy'
import { checkLedger } from '~~/server/ledger/check'
import { reverse } from '~~/server/ledger/reverse'
import { cancelBuild, createBuild, editBuild, startBuild } from '~~/server/services/workshop/builds'
import { substitute } from '~~/server/services/workshop/build-lines'
import { closeBuild, undoBuild } from '~~/server/services/workshop/close-build'
import { pickRows } from '~~/server/services/workshop/job-documents'
import { listJobs } from '~~/server/services/workshop/jobs'
import { loadBuild } from '~~/server/services/workshop/read-build'
import { recordBuild, type RecordEdit } from '~~/server/services/workshop/record-build'
import { freeAgain, makeReady } from '~~/server/services/workshop/allocate-build'
import { BillEdit } from '~~/shared/structure/requests'
import { BuildEdit, JobQuery, RecordBuild } from '~~/shared/workshop/requests'
import { onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { balanceTexts, here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const items = { board: 0, boardB: 0, glue: 0, book: 0, case: 0, chips: 0 }
const bill = (itemId: number, lines: object[], more: object = {}) =>
  inTransaction((tx) =>
    saveOne(tx, owner, shapeOf('bills'), {
      id: null,
      version: null,
      definition: BillEdit.parse({ itemId, fromOn: '2026-01-01', batchUnit: 'piece', lines, ...more }),
    }),
  )
/** A record with everything by the bill but what is said. */
const record = (id: number, version: number, more: Partial<RecordEdit> & { made: string }) =>
  inTransaction((tx) =>
    recordBuild(tx, owner, id, {
      ...RecordBuild.omit({ key: true }).parse({ version, unit: 'piece', binId: here.shelf, ...more }),
    }),
  )
const state = async (id: number): Promise<string> => {
  const build = await loadBuild(id, owner.today)
  return `${build.status} ${build.made} of ${build.quantity}`
}
const build = async (itemId: number, quantity: string): Promise<number> =>
  (
    await inTransaction((tx) =>
      createBuild(tx, owner, {
        itemId,
        quantity: typedQuantity(quantity),
        unit: 'piece',
        dueOn: '2026-10-09',
        siteId: here.workshop,
      }),
    )
  ).id
const version = async (id: number): Promise<number> => (await loadBuild(id, owner.today)).version
const accounts = async (documentId: number): Promise<Record<string, string>> =>
  Object.fromEntries(
    (
      await rows<{ account: string; amount: string }>(
        db,
        sql`
          select j.place_kind as account, sum(j.amount)::text as amount
          from journal j
          join postings o on o.id = j.posting_id
          where o.document_kind = 'build' and o.document_id = ${documentId}
          group by 1
          having sum(j.amount) <> 0
          order by 1`,
      )
    ).map((row) => [row.account, row.amount]),
  )

beforeAll(async () => {
  items.board = await make('WS-BOARD')
  items.boardB = await make('WS-BOARD-B')
  items.glue = await make('WS-GLUE', {
    stockUnit: 'kg',
    buyingUnit: 'kg',
    sellingUnit: 'kg',
    finestStep: '0.001',
    tracking: 'lot',
  })
  items.case = await make('WS-CASE', { source: 'made', tracking: 'lot' })
  items.chips = await make('WS-CHIPS', {
    source: 'made',
    stockUnit: 'kg',
    buyingUnit: 'kg',
    sellingUnit: 'kg',
    finestStep: '0.001',
  })
  items.book = await make('WS-BOOK', { source: 'made', tracking: 'lot' })
  await bill(
    items.book,
    [
      {
        itemId: items.board,
        quantity: typedQuantity('1'),
        unit: 'piece',
        substitutes: [{ itemId: items.boardB, per: '2', rank: 1 }],
      },
      { itemId: items.glue, quantity: typedQuantity('12'), unit: 'g' },
    ],
    { minutesPerUnit: '5', workRate: '12' },
  )
  await bill(items.case, [{ itemId: items.board, quantity: typedQuantity('3'), unit: 'piece' }], {
    byProducts: [{ itemId: items.chips, quantity: typedQuantity('100'), unit: 'g', sharePercent: '10' }],
  })
  await open(items.board, '8', '1.00', { effectiveOn: '2026-09-01' })
  await open(items.boardB, '20', '1.50', { effectiveOn: '2026-09-01' })
  await open(items.glue, '1', '10.00', { unit: 'kg', lot: 'G-1', expiresOn: '2027-01-31', effectiveOn: '2026-09-01' })
})

describe('a build in two parts', () => {
  let id = 0
  it('is a draft that says what is short and what can be done about it', async () => {
    id = await build(items.book, '12')
    const draft = await loadBuild(id, owner.today)
    expect(draft.components.map((line) => [line.code, line.need, line.inUnit, line.unitSymbol, line.missing])).toEqual([
      ['WS-BOARD', '12', '12', 'pc', '4'],
      ['WS-GLUE', '0.144', '144', 'g', '0'],
    ])
    expect(draft.components[0]!.remedies).toEqual([
      {
        kind: 'substitute',
        itemId: items.boardB,
        code: 'WS-BOARD-B',
        name: 'WS-BOARD-B to test with',
        rank: 1,
        per: '2',
        free: '20',
        symbol: 'pc',
        covers: '8',
      },
    ])
    expect((await refusalOf((tx) => makeReady(tx, owner, id, { version: draft.version, whole: true }))).detail).toBe(
      'Not everything is there: 4 pc WS-BOARD missing. Allocate what is there, or see below what can be done.',
    )
    expect(await balanceTexts(items.board)).toEqual(['Shelf A 8 available'])
  })
  it('another item stands in for what is missing, by its ratio: 8 for 4; then everything is set aside', async () => {
    await inTransaction(async (tx) =>
      substitute(tx, owner, id, {
        version: await version(id),
        lineId: (await loadBuild(id, owner.today)).components[0]!.id,
        itemId: items.boardB,
        quantity: typedQuantity('8'),
        unit: 'piece',
      }),
    )
    const changed = await loadBuild(id, owner.today)
    expect(changed.components.map((line) => [line.code, line.need, line.forCode, line.missing])).toEqual([
      ['WS-BOARD', '8', null, '0'],
      ['WS-GLUE', '0.144', null, '0'],
      ['WS-BOARD-B', '8', 'WS-BOARD', '0'],
    ])
    expect(
      await inTransaction((tx) => makeReady(tx, owner, id, { version: changed.version, whole: true })),
    ).toMatchObject({ status: 'ready', missing: [] })
    // What is set aside for one is not there for another.
    const second = await build(items.book, '2')
    expect((await loadBuild(second, owner.today)).components[0]!.missing).toBe('2')
    expect(
      (
        await refusalOf((tx) =>
          recordBuild(tx, owner, second, {
            ...RecordBuild.omit({ key: true }).parse({ version: 1, made: '2', unit: 'piece', binId: here.shelf }),
          }),
        )
      ).detail,
    ).toBe('WS-BOARD WS-BOARD to test with: 2 pc needed, 0 pc free; 2 pc missing.')
    await inTransaction((tx) => cancelBuild(tx, owner, second, 1))
    expect(await state(second)).toBe('cancelled 0 of 2')
  })
  it('the first part: 5 books, more glue than the bill, a board cut wrong; it costs what it took', async () => {
    await inTransaction(async (tx) => startBuild(tx, owner, id, await version(id)))
    const started = await loadBuild(id, owner.today)
    const [board, glue, boardB] = started.components
    expect([board!.next, glue!.next, boardB!.next]).toEqual(['8', '0.144', '8'])
    const done = await record(id, started.version, {
      made: typedQuantity('5'),
      uses: [
        { lineId: glue!.id, quantity: typedQuantity('100'), unit: 'g', balanceId: null, scrap: '' },
        { lineId: boardB!.id, quantity: typedQuantity('4'), unit: 'piece', balanceId: null, scrap: '' },
        { lineId: boardB!.id, quantity: typedQuantity('1'), unit: 'piece', balanceId: null, scrap: 'cut wrong' },
      ],
    })
    // boards 8 × 5/12 → 4 at 1.00; board B 5 at 1.50; glue 0.1 kg at 10.00; work 25 min at 12.00: 4.00 + 7.50 + 1.00 +
    // 5.00
    expect([done.value, done.status, done.lot]).toEqual(['1750', 'started', started.number])
    const part = await loadBuild(id, owner.today)
    expect([part.made, part.left]).toEqual(['5', '7'])
    expect(part.components.map((line) => [line.code, line.used, line.scrapped, line.next])).toEqual([
      ['WS-BOARD', '4', '0', '4'],
      ['WS-GLUE', '0.1', '0', '0.084'],
      ['WS-BOARD-B', '5', '1', '4'],
    ])
    expect([
      await onHand('WS-BOARD'),
      await onHand('WS-BOARD-B'),
      await onHand('WS-GLUE'),
      await onHand('WS-BOOK'),
    ]).toEqual(['4', '15', '0.9', '5'])
    expect(part.cost.inWork).toBe('0')
  })
  it('the second part takes the rest by the bill, and the cost is held against the bill', async () => {
    const done = await record(id, await version(id), { made: typedQuantity('7'), minutes: '30' })
    // boards 4.00; board B 4 × 1.50 = 6.00; glue 0.084 kg = 0.84; work 30 min = 6.00
    expect([done.value, done.status]).toEqual(['1684', 'done'])
    const { cost } = await loadBuild(id, owner.today)
    // Bill: 8 boards 8.00, 0.144 kg 1.44, 8 of B 12.00, work 60 min 12.00. Used more: 0.04 kg = 0.40, one of B = 1.50;
    // work 55 min by bill and clock: 25 + 30 = −1.00
    expect(cost.total).toEqual({ bill: '3344', usage: '90', price: '0', yield: '0', actual: '3434' })
    expect(cost.lines.map((line) => [line.code || line.name, line.bill, line.usage, line.actual])).toEqual([
      ['WS-BOARD', '800', '0', '800'],
      ['WS-GLUE', '144', '40', '184'],
      ['WS-BOARD-B', '1200', '150', '1350'],
      ['Work', '1200', '-100', '1100'],
    ])
    expect([cost.minutes, await valueOf('WS-BOOK'), await onHand('WS-BOOK')]).toEqual(['30', '3434', '12'])
    expect(await accounts(id)).toEqual({ bin: '1100', work: '-1100' })
  })
  it('the book knows the glue it holds', async () => {
    const [lot] = await rows<{ id: number }>(db, sql`select id from lots where item_id = ${items.book}`)
    const back = await traceGoods({ lot: lot!.id, piece: null }, 'back')
    expect(back.nodes.map((goods) => [goods.code, goods.lot])).toEqual(
      expect.arrayContaining([
        ['WS-GLUE', 'G-1'],
        ['WS-BOARD-B', null],
      ]),
    )
  })
  it('the older part is not taken back before the newer; all of it is undone at once, and everything is as it was', async () => {
    const postings = (await loadBuild(id, owner.today)).postings.filter((act) => !act.reversal)
    expect((await refusalOf((tx) => reverse(tx, owner, postings.at(-1)!.id))).detail).toContain('came after it')
    expect(await inTransaction(async (tx) => undoBuild(tx, owner, id, await version(id)))).toEqual({ taken: 2 })
    expect([
      await onHand('WS-BOARD'),
      await onHand('WS-BOARD-B'),
      await onHand('WS-GLUE'),
      await onHand('WS-BOOK'),
    ]).toEqual(['8', '20', '1', '0'])
    expect([
      await valueOf('WS-BOARD'),
      await valueOf('WS-BOARD-B'),
      await valueOf('WS-GLUE'),
      await valueOf('WS-BOOK'),
    ]).toEqual(['800', '3000', '1000', '0'])
    const undone = await loadBuild(id, owner.today)
    expect([
      undone.status,
      undone.made,
      undone.components.map((line) => [line.used, line.scrapped, line.next, line.allocated]),
      undone.cost.inWork,
    ]).toEqual([
      'draft',
      '0',
      [
        ['0', '0', '8', '0'],
        ['0', '0', '0.144', '0'],
        ['0', '0', '8', '0'],
      ],
      '0',
    ])
    expect(await accounts(id)).toEqual({})
    // Made again it costs the same.
    expect((await record(id, undone.version, { made: typedQuantity('12') })).value).toBe('3344')
    await inTransaction(async (tx) => undoBuild(tx, owner, id, await version(id)))
  })
})

describe('goods in work', () => {
  it('what is taken before anything is made waits in work, and goes to the parts by their size; the rest is written off where nothing more comes', async () => {
    const id = await build(items.book, '8')
    const [board, glue] = (await loadBuild(id, owner.today)).components
    const first = await record(id, 1, {
      made: typedQuantity('0'),
      uses: [
        { lineId: board!.id, quantity: typedQuantity('8'), unit: 'piece', balanceId: null, scrap: '' },
        { lineId: glue!.id, quantity: typedQuantity('96'), unit: 'g', balanceId: null, scrap: '' },
      ],
    })
    expect([first.value, first.status]).toEqual(['0', 'started'])
    // 8.00 + 0.96 in work, nothing left to take
    const begun = await loadBuild(id, owner.today)
    expect([begun.cost.inWork, begun.components.map((line) => line.next)]).toEqual(['896', ['0', '0']])
    // 2 of 8: 2.24 of what is in work and 2.00 of work
    const part = await record(id, begun.version, { made: typedQuantity('2') })
    expect(part.value).toBe('424')
    const [lot] = await rows<{ id: number }>(
      db,
      sql`select id from lots where item_id = ${items.book} and number = ${begun.number}`,
    )
    expect((await traceGoods({ lot: lot!.id, piece: null }, 'back')).nodes.map((node) => node.code)).toEqual([
      'WS-BOOK',
      'WS-BOARD',
      'WS-GLUE',
    ])
    expect((await loadBuild(id, owner.today)).cost.inWork).toBe('672')
    expect(await inTransaction(async (tx) => closeBuild(tx, owner, id, await version(id)))).toMatchObject({
      writtenOff: '672',
    })
    expect([await state(id), await accounts(id)]).toEqual([
      'done 2 of 8',
      { bin: '-472', correction: '672', work: '-200' },
    ])
    await inTransaction(async (tx) => undoBuild(tx, owner, id, await version(id)))
    expect([await state(id), await accounts(id), await valueOf('WS-BOARD')]).toEqual(['draft 0 of 8', {}, '800'])
    await inTransaction(async (tx) => cancelBuild(tx, owner, id, await version(id)))
  })
  it('the day of a part does not lie before the part before it, nor in the future; nothing is not recorded', async () => {
    const [paper, card] = [await make('WS-PAPER'), await make('WS-CARD', { source: 'made' })]
    await bill(card, [{ itemId: paper, quantity: typedQuantity('1'), unit: 'piece' }])
    await open(paper, '4', '1.00', { effectiveOn: '2026-09-01' })
    const id = await build(card, '4')
    expect(
      (
        await refusalOf((tx) =>
          recordBuild(tx, owner, id, {
            ...RecordBuild.omit({ key: true }).parse({ version: 1, made: '0', unit: 'piece', binId: here.shelf }),
          }),
        )
      ).fields,
    ).toEqual({ made: 'Give what came out, or what was used.' })
    await record(id, 1, { made: typedQuantity('1'), effectiveOn: '2026-10-02' })
    const next = await version(id)
    const onDay = (day: string) =>
      refusalOf((tx) =>
        recordBuild(tx, owner, id, {
          ...RecordBuild.omit({ key: true }).parse({
            version: next,
            made: typedQuantity('1'),
            unit: 'piece',
            binId: here.shelf,
            effectiveOn: day,
          }),
        }),
      )
    expect((await onDay('2026-10-01')).fields).toEqual({ effectiveOn: 'Not before 2026-10-02.' })
    expect((await onDay('2026-10-06')).fields).toEqual({ effectiveOn: 'That day is still to come.' })
    await inTransaction((tx) => undoBuild(tx, owner, id, next))
  })
})

describe('a draft', () => {
  it('follows its quantity but where it was changed by hand; a set-aside build stands', async () => {
    const id = await build(items.book, '2')
    const draft = await loadBuild(id, owner.today)
    const edit = (more: object) =>
      inTransaction(async (tx) =>
        editBuild(
          tx,
          owner,
          id,
          BuildEdit.parse({
            version: await version(id),
            quantity: typedQuantity('2'),
            unit: 'piece',
            dueOn: '2026-10-12',
            note: 'for the fair',
            ...more,
          }),
        ),
      )
    await edit({
      lines: draft.components.map((line) => ({
        id: line.id,
        itemId: line.itemId,
        forItemId: null,
        quantity: typedQuantity(line.code === 'WS-GLUE' ? '50' : '2'),
        unit: line.code === 'WS-GLUE' ? 'g' : 'piece',
      })),
    })
    await edit({ quantity: '4' })
    expect(
      (await loadBuild(id, owner.today)).components.map((line) => [line.code, line.need, line.byHand]).sort(),
    ).toEqual([
      ['WS-BOARD', '4', false],
      ['WS-GLUE', '0.05', true],
    ])
    await inTransaction(async (tx) => makeReady(tx, owner, id, { version: await version(id), whole: true }))
    expect(
      (
        await refusalOf(async (tx) =>
          editBuild(
            tx,
            owner,
            id,
            BuildEdit.parse({ version: await version(id), quantity: '5', unit: 'piece', dueOn: '2026-10-12' }),
          ),
        )
      ).detail,
    ).toContain('is ready: what it takes stands')
    await inTransaction(async (tx) => freeAgain(tx, owner, id, await version(id)))
    expect([
      await state(id),
      (await loadBuild(id, owner.today)).components.every((line) => line.allocated === '0'),
    ]).toEqual(['draft 0 of 4', true])
    const wrong = await refusalOf(async (tx) =>
      editBuild(
        tx,
        owner,
        id,
        BuildEdit.parse({
          version: await version(id),
          quantity: typedQuantity('4'),
          unit: 'piece',
          dueOn: '2026-10-12',
          lines: [{ id: null, itemId: items.book, quantity: typedQuantity('1'), unit: 'piece' }],
        }),
      ),
    )
    expect(wrong.fields).toEqual({ 'lines.0.itemId': 'A build does not take what it makes.' })
    await inTransaction(async (tx) => cancelBuild(tx, owner, id, await version(id)))
  })
  it('gives its pick list bin by bin, and names what is short among the jobs', async () => {
    const id = await build(items.case, '5')
    const draft = await loadBuild(id, owner.today)
    expect(await pickRows(draft)).toMatchObject({
      picks: [{ bin: 'Shelf A', code: 'WS-BOARD', quantity: '8' }],
      missing: [{ code: 'WS-BOARD', quantity: '7', symbol: 'pc' }],
    })
    expect(
      (await listJobs(JobQuery.parse({ search: 'WS-CASE' }))).rows.map((job) => [
        job.quantity,
        job.status,
        job.shortOf,
      ]),
    ).toEqual([['5', 'draft', 'WS-BOARD']])
    await inTransaction((tx) => cancelBuild(tx, owner, id, 1))
  })
})

describe('what comes out beside', () => {
  it('takes its share of the value: 6 boards, 6.00, of which chips bear a tenth', async () => {
    const id = await build(items.case, '2')
    expect(
      (await loadBuild(id, owner.today)).byProducts.map((byProduct) => [byProduct.code, byProduct.quantity]),
    ).toEqual([['WS-CHIPS', '0.2']])
    expect((await record(id, 1, { made: typedQuantity('2') })).value).toBe('540')
    expect([await onHand('WS-CHIPS'), await valueOf('WS-CHIPS'), await valueOf('WS-CASE')]).toEqual([
      '0.2',
      '60',
      '540',
    ])
    await inTransaction(async (tx) => undoBuild(tx, owner, id, await version(id)))
    // Without chips the cases bear it all.
    expect(
      (
        await record(id, await version(id), {
          made: typedQuantity('2'),
          byProducts: [{ itemId: items.chips, quantity: typedQuantity('0'), unit: 'kg' }],
        })
      ).value,
    ).toBe('600')
    await inTransaction(async (tx) => undoBuild(tx, owner, id, await version(id)))
    await inTransaction(async (tx) => cancelBuild(tx, owner, id, await version(id)))
  })
})

describe('a sub-assembly', () => {
  it('is built along where it is missing, in the same act, and is not where the act fails', async () => {
    const album = await make('WS-ALBUM', { source: 'made' })
    await bill(album, [{ itemId: items.case, quantity: typedQuantity('1'), unit: 'piece' }])
    const id = await build(album, '2')
    const plain = RecordBuild.omit({ key: true }).parse({
      version: 1,
      made: typedQuantity('2'),
      unit: 'piece',
      binId: here.shelf,
    })
    expect((await refusalOf((tx) => recordBuild(tx, owner, id, { ...plain }))).code).toBe('short')
    const done = await record(id, 1, { made: typedQuantity('2'), withSubAssemblies: true })
    expect(done.withSubAssemblies.map((entry) => [entry.code, entry.quantity])).toEqual([['WS-CASE', '2']])
    expect([
      done.value,
      await onHand('WS-CASE'),
      await onHand('WS-BOARD'),
      (await loadBuild(id, owner.today)).withSubAssemblies.map((entry) => [entry.code, entry.status]),
    ]).toEqual(['540', '0', '2', [['WS-CASE', 'done']]])
    const more = await build(album, '2')
    expect(
      (await refusalOf((tx) => recordBuild(tx, owner, more, { ...plain, withSubAssemblies: true }))).detail,
    ).toContain('WS-BOARD')
    expect((await listJobs(JobQuery.parse({ search: 'WS-CASE', state: 'open' }))).total).toBe(0)
  })
})

it('two who record from the same goods at once: one is told, and nothing goes below zero', async () => {
  const [entry, two] = [await build(items.book, '2'), await build(items.book, '2')]
  const ended = await Promise.allSettled([entry, two].map((id) => record(id, 1, { made: typedQuantity('2') })))
  expect(ended.map((end) => end.status).sort()).toEqual(['fulfilled', 'rejected'])
  expect(await onHand('WS-BOARD')).toBe('0')
})

it('every balance still equals the sum of its moves, and the journal sums to nothing', async () => {
  expect(await checkLedger()).toEqual([])
  expect(await rows(db, sql`select posting_id from journal group by 1 having sum(amount) <> 0`)).toEqual([])
})
