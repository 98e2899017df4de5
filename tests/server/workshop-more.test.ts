import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { applyImport, previewImport, openImport } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { importBuild } from '~~/server/services/company/import-workshop'
import { takeSnapshot } from '~~/server/services/planning/snapshot'
import { listBySite } from '~~/server/services/stock/site-stock'
import { createBuild } from '~~/server/services/workshop/builds'
import { listCutting, loadCutting } from '~~/server/services/workshop/cutting'
import { buildSheet, pickList } from '~~/server/services/workshop/job-documents'
import { listJobs } from '~~/server/services/workshop/jobs'
import { loadBuild } from '~~/server/services/workshop/read-build'
import { makeReady } from '~~/server/services/workshop/allocate-build'
import { SiteQuery } from '~~/shared/stock/requests'
import { BillEdit, BreakDownEdit } from '~~/shared/structure/requests'
import { JobQuery } from '~~/shared/workshop/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const bill = (itemId: number, lines: object[], more: object = {}) =>
  inTransaction((tx) =>
    saveOne(tx, owner, shapeOf('bills'), {
      id: null,
      version: null,
      definition: BillEdit.parse({ itemId, fromOn: '2026-01-01', batchUnit: 'piece', lines, ...more }),
    }),
  )
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
const jobOf = async (number: string): Promise<number> =>
  (await rows<{ id: number }>(db, sql`select id from builds where number = ${number}`))[0]!.id

describe('the demo’s workshop', () => {
  it('has builds in every state, and a started one that spoiled a sheet', async () => {
    expect(
      (
        await rows<{ sentence: string }>(
          db,
          sql`select number || ' ' || status || ' ' || trim_scale(made)::text as sentence from builds order by number`,
        )
      ).map((row) => row.sentence),
    ).toEqual([
      'B-0875 done 10',
      'B-0876 cancelled 0',
      'B-0877 started 6',
      'B-0878 ready 0',
      'B-0880 draft 0',
      'B-0881 draft 0',
    ])
    const started = await loadBuild(await jobOf('B-0877'), owner.today)
    expect(started.components.map((line) => [line.code, line.used, line.scrapped, line.next])).toEqual([
      ['PAPER-80', '36', '0', '60'],
      ['PAPER-WC', '7', '1', '10'],
      ['CARD-THANKS', '6', '0', '10'],
      ['THREAD-COL', '3.6', '0', '6'],
    ])
    // 6 of 16: a watercolour sheet more, 21 minutes for 24
    expect([started.cost.minutes, started.cost.billMinutes, started.cost.inWork]).toEqual(['21', '24', '0'])
    expect(
      (await loadBuild(await jobOf('B-0878'), owner.today)).components.every((line) => line.allocated === line.need),
    ).toBe(true)
  })
  it('lists what is open, by kind, state and words, a page at a time', async () => {
    const numbers = async (query: object): Promise<string[]> =>
      (await listJobs(JobQuery.parse(query))).rows.map((job) => job.number)
    expect(await numbers({ state: 'done' })).toEqual(['B-0875'])
    expect(await numbers({ search: 'sampler', state: '', sort: '-number' })).toEqual([
      'B-0878',
      'B-0877',
      'B-0876',
      'B-0875',
    ])
    expect(await numbers({ kind: 'break-down' })).toEqual([])
    const page = await listJobs(JobQuery.parse({ state: '', size: 2, page: 2, sort: 'number' }))
    expect([page.rows.map((job) => job.number), page.total]).toEqual([['B-0877', 'B-0878'], 6])
  })
  it('has a cutting job whose jobs come from one dye lot each', async () => {
    expect((await listCutting()).map((job) => [job.number, job.lengths, job.jobs])).toEqual([
      ['CJ-0001', 23, 'Album covers, Guest books, Slip cases'],
    ])
    const job = await loadCutting(1)
    const lots = new Map<string, Set<string | null>>()
    for (const cut of job.plan!.cuts) {
      for (const part of cut.parts) {
        const name = job.wanted[part]!.job
        lots.set(name, (lots.get(name) ?? new Set()).add(job.stock.find((piece) => piece.pieceId === cut.pieceId)!.lot))
      }
    }
    expect([...lots.values()].map((set) => set.size)).toEqual([1, 1, 1])
    expect(job.plan!.cuts.flatMap((cut) => cut.parts).length).toBe(23)
  })
  it('prints a pick list and a sheet', async () => {
    for (const document of [
      await pickList(await jobOf('B-0877'), owner.today),
      await buildSheet(await jobOf('B-0877'), owner.today),
    ]) {
      expect(document.name).toMatch(/^B-0877.*\.pdf$/)
      expect(document.bytes.subarray(0, 5).toString()).toBe('%PDF-')
      expect(document.bytes.length).toBeGreaterThan(8000)
    }
  })
})

describe('what is short', () => {
  it('says every way out: break down, buy the bulk, build, bring from another site, buy', async () => {
    const [drum, tub, sub, leaf, book] = [
      await make('WO-DRUM'),
      await make('WO-TUB', { source: 'broken down' }),
      await make('WO-SUB', { source: 'made' }),
      await make('WO-LEAF'),
      await make('WO-BOOK', { source: 'made' }),
    ]
    const supplierId = (await rows<{ id: number }>(db, sql`select id from suppliers order by id limit 1`))[0]!.id
    for (const [id, code] of [
      [drum, 'WO-DRUM'],
      [leaf, 'WO-LEAF'],
    ] as const) {
      await rows(
        db,
        sql`
          insert into supplier_terms (item_id, supplier_id, supplier_code, unit, price, lead_days)
          values (${id}, ${supplierId}, ${code}, 'piece', 1, 7)`,
      )
    }
    await inTransaction((tx) =>
      saveOne(tx, owner, shapeOf('break-downs'), {
        id: null,
        version: null,
        definition: BreakDownEdit.parse({
          itemId: drum,
          unit: 'piece',
          outputs: [{ itemId: tub, quantity: '20', unit: 'piece' }],
        }),
      }),
    )
    await bill(sub, [{ itemId: leaf, quantity: '1', unit: 'piece' }])
    await bill(book, [
      { itemId: tub, quantity: '3', unit: 'piece' },
      { itemId: sub, quantity: '1', unit: 'piece' },
      { itemId: leaf, quantity: '2', unit: 'piece' },
    ])
    await open(leaf, '15', '1.00', { binId: here.store })
    const { components } = await loadBuild(await build(book, '10'), owner.today)
    expect(
      components.map((line) => [
        line.code,
        line.missing,
        line.remedies.map((remedy) => {
          if (remedy.kind === 'buy') {
            return `buy ${remedy.quantity} ${remedy.code}`
          }
          if (remedy.kind === 'break down') {
            return `break down ${remedy.times} ${remedy.code}, ${remedy.there ? 'there' : 'not there'}`
          }
          if (remedy.kind === 'transfer') {
            return `bring ${remedy.free}`
          }
          return remedy.kind
        }),
      ]),
    ).toEqual([
      ['WO-TUB', '30', ['break down 2 WO-DRUM, not there', 'buy 2 pc WO-DRUM']],
      ['WO-SUB', '10', ['build']],
      ['WO-LEAF', '20', ['bring 15', 'buy 20 pc WO-LEAF']],
    ])
  })
  it('a phantom is taken as far as it is there when the build is written, the rest as its components; its revision is kept', async () => {
    const [sheet, lining, cover] = [
      await make('WO-SHEET'),
      await make('WO-LINING', { source: 'made' }),
      await make('WO-COVER', { source: 'made' }),
    ]
    await bill(lining, [{ itemId: sheet, quantity: '2', unit: 'piece' }])
    await bill(cover, [{ itemId: lining, quantity: '1', unit: 'piece', phantom: true }])
    await open(lining, '4', '1.00')
    expect(
      (await loadBuild(await build(cover, '10'), owner.today)).components.map((line) => [line.code, line.need]),
    ).toEqual([
      ['WO-LINING', '4'],
      ['WO-SHEET', '12'],
    ])
  })
  it('what is set aside for a build is neither free to the plan nor asked for again', async () => {
    const [pin, badge] = [await make('WO-PIN'), await make('WO-BADGE', { source: 'made' })]
    await bill(badge, [{ itemId: pin, quantity: '2', unit: 'piece' }])
    await open(pin, '30', '1.00')
    const id = await build(badge, '10')
    const asks = async (): Promise<[number, number]> => {
      const input = await takeSnapshot(db, {
        start: '2026-10-05',
        end: '2026-11-30',
        demandRule: 'larger',
        forecastIds: [],
        forecastFalls: 'first day',
      } as Parameters<typeof takeSnapshot>[1])
      return [
        input.nodes.find((node) => node.id === String(pin))!.onHand.reduce((sum, lot) => sum + lot.quantity, 0),
        input.demands.filter((demand) => demand.node === String(pin)).reduce((sum, demand) => sum + demand.quantity, 0),
      ]
    }
    expect(await asks()).toEqual([30, 20])
    await inTransaction((tx) => makeReady(tx, owner, id, { version: 1, whole: true }))
    expect(await asks()).toEqual([10, 0])
  })
})

describe('what comes in by file', () => {
  const find = {
    item: (code: string | undefined) => idOf('items', code!),
    bin: (code: string | undefined) => idOf('places', code!),
    site: (code: string | undefined) => idOf('sites', code!),
  }
  it('a state that is none is told', async () => {
    expect(
      (
        await refusalOf((tx) =>
          importBuild(
            tx,
            owner,
            {
              number: 'B-0999',
              item: 'SAMPLER',
              quantity: '1',
              unit: 'piece',
              release_on: '2026-10-06',
              due_on: '2026-10-07',
              state: 'waiting',
            },
            find,
          ),
        )
      ).detail,
    ).toBe('“waiting” is no state of a build. Write draft, ready, started, done, cancelled.')
  })
  it('a file is taken in by the columns that were looked at, though another look was stored after it', async () => {
    const preview = await openImport(owner, {
      table: 'items',
      fileName: 'tools.csv',
      content: Buffer.from('A,B,Family\nWM-1,Mallet,TOOLS\n').toString('base64'),
    } as never)
    const mapping = { ...preview.mapping, code: 'A', name: 'B', group: 'Family' }
    expect((await previewImport(owner, preview.id, mapping)).faults).toEqual([])
    await previewImport(owner, preview.id, { ...mapping, name: null })
    expect((await refusalOf((tx) => applyImport(tx, owner, preview.id))).code).toBe('invalid-input')
    expect(await inTransaction((tx) => applyImport(tx, owner, preview.id, mapping))).toMatchObject({
      made: 1,
      faults: [],
    })
  })
})

describe('stock by site', () => {
  beforeAll(async () => {
    await open(await make('WO-SITE'), '5', '1.00', { binId: here.store })
  })
  it('tells what is short alone when asked, and pages by item and site', async () => {
    const all = await listBySite(SiteQuery.parse({ size: 3 }))
    expect([all.rows.length, all.total > 50]).toEqual([3, true])
    const next = await listBySite(SiteQuery.parse({ size: 3, page: 2 }))
    expect(next.rows[0]!.code >= all.rows[2]!.code).toBe(true)
    const short = await listBySite(SiteQuery.parse({ short: 'yes', size: 200 }))
    expect(short.rows.length).toBeGreaterThan(0)
    expect(short.rows.every((row) => Number(row.backOrder) > 0)).toBe(true)
    expect((await listBySite(SiteQuery.parse({ search: 'WO-SITE' }))).rows).toMatchObject([
      { code: 'WO-SITE', onHand: '5', available: '5', backOrder: '0', siteId: here.storeSite },
    ])
  })
})
