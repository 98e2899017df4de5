import { describe, expect, it } from 'vitest'
import { inTransaction } from '~~/server/database/transactions'
import { listItems } from '~~/server/services/catalogue/items'
import { findPartners } from '~~/server/services/catalogue/partners'
import { saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { loadViews, removeView, saveView } from '~~/server/services/company/saved-views'
import { writeTableFile } from '~~/server/services/company/table-file'
import { addPerson } from '~~/server/services/company/set-up'
import { listOrders } from '~~/server/services/demand/order-queries'
import { listPurchases } from '~~/server/services/purchasing/list-purchases'
import { listLots } from '~~/server/services/stock/lot-queries'
import { listMoves } from '~~/server/services/stock/move-queries'
import { listBalances } from '~~/server/services/stock/queries'
import { listBySite } from '~~/server/services/stock/site-stock'
import { listBills } from '~~/server/services/structure/bills'
import { listJobs } from '~~/server/services/workshop/jobs'
import { db } from '~~/server/database/client'
import { ItemQuery, PartnerQuery } from '~~/shared/catalogue/requests'
import type { Definition } from '~~/shared/catalogue/definitions'
import { OrderQuery } from '~~/shared/demand/requests'
import { NewView } from '~~/shared/lists'
import { readFilter, writeFilter } from '~~/shared/list-filter'
import { LotQuery, SiteQuery, StockQuery } from '~~/shared/stock/requests'
import { BillList } from '~~/shared/structure/requests'
import { JobQuery } from '~~/shared/workshop/requests'
import type { Paged } from '~~/shared/primitives'
import { owner, refusalOf, withDemo } from './database'

withDemo()

type Kind = 'text' | 'number' | 'day'
type Query = Readonly<Record<string, unknown>>
interface List {
  readonly name: string
  readonly ask: (query: Query) => Promise<Paged<unknown>>
  readonly columns: Readonly<Record<string, Kind>>
}

const LISTS: readonly List[] = [
  {
    name: 'items',
    ask: (query) => listItems(ItemQuery.parse(query)),
    columns: {
      code: 'text',
      group: 'text',
      source: 'text',
      onHand: 'number',
      coming: 'number',
      wanted: 'number',
      value: 'number',
      supplier: 'text',
      barcode: 'text',
      safetyStock: 'number',
    },
  },
  {
    name: 'purchase orders',
    ask: (query) => listPurchases(OrderQuery.parse(query)),
    columns: {
      dueOn: 'day',
      number: 'text',
      supplier: 'text',
      orderedOn: 'day',
      summary: 'text',
      lines: 'number',
      openLines: 'number',
    },
  },
  {
    name: 'sales orders',
    ask: (query) => listOrders(OrderQuery.parse(query)),
    columns: {
      dueOn: 'day',
      number: 'text',
      customer: 'text',
      orderedOn: 'day',
      summary: 'text',
      lines: 'number',
      value: 'number',
    },
  },
  {
    name: 'jobs',
    ask: (query) => listJobs(JobQuery.parse({ state: '', ...query })),
    columns: { dueOn: 'day', releaseOn: 'day', number: 'text', code: 'text', quantity: 'number', status: 'text' },
  },
  {
    name: 'balances',
    ask: (query) => listBalances(StockQuery.parse(query)),
    columns: {
      code: 'text',
      bin: 'text',
      site: 'text',
      expiresOn: 'day',
      status: 'text',
      onHand: 'number',
      allocated: 'number',
    },
  },
  {
    name: 'balances of a day',
    ask: (query) => listBalances(StockQuery.parse({ asOf: '2026-10-01', ...query })),
    columns: { code: 'text', bin: 'text', expiresOn: 'day', onHand: 'number' },
  },
  {
    name: 'lots',
    ask: (query) => listLots(LotQuery.parse({ held: '', ...query })),
    columns: { code: 'text', receivedOn: 'day', expiresOn: 'day', onHand: 'number', where: 'text' },
  },
  {
    name: 'stock by site',
    ask: (query) => listBySite(SiteQuery.parse(query)),
    columns: {
      code: 'text',
      site: 'text',
      onHand: 'number',
      available: 'number',
      coming: 'number',
      backOrder: 'number',
    },
  },
  {
    name: 'moves',
    ask: (query) => listMoves(StockQuery.parse(query)),
    columns: { effectiveOn: 'day', code: 'text', from: 'text', to: 'text', who: 'text', quantity: 'number' },
  },
  {
    name: 'bills',
    ask: (query) => listBills(db, BillList.parse(query), '2026-10-05'),
    columns: { code: 'text', source: 'text', fromOn: 'day', lines: 'number', drafts: 'number' },
  },
]
const CASES = LISTS.flatMap((list) => Object.entries(list.columns).map(([column, kind]) => ({ list, column, kind })))
const label = ({ list, column }: (typeof CASES)[number]): [string, (typeof CASES)[number]] => [
  `${list.name} by ${column}`,
  CASES.find((entry) => entry.list === list && entry.column === column)!,
]

/** A column of all rows, in the order in which the list gives them, page after page. */
async function columnOf(list: List, column: string, query: Query): Promise<string[]> {
  const cells: string[] = []
  for (let page = 1; ; page++) {
    const { rows, total } = await list.ask({ ...query, page, size: 40 })
    cells.push(...rows.map((row) => String((row as Record<string, unknown>)[column] ?? '')))
    if (rows.length === 0 || cells.length >= total) {
      return cells
    }
  }
}
const before = (kind: Kind, first: string, second: string): boolean =>
  kind === 'number' ? Number(first) <= Number(second) : first <= second

describe('a list sorts by each of its columns, page after page', () => {
  it.each(CASES.map(label))('%s', async (_, { list, column, kind }) => {
    const up = await columnOf(list, column, { sort: column })
    const down = await columnOf(list, column, { sort: `-${column}` })
    const filled = up.filter((cell) => cell !== '')
    expect(up.slice(0, filled.length), 'what is empty stands last').toEqual(filled)
    expect(down.slice(0, filled.length).every((cell) => cell !== '')).toBe(true)
    expect([...up].sort()).toEqual([...(await columnOf(list, column, {}))].sort())
    if (kind !== 'text') {
      for (const [index, cell] of filled.slice(1).entries()) {
        expect(before(kind, filled[index]!, cell), `${filled[index]} before ${cell}`).toBe(true)
      }
    }
    expect(down.filter((cell) => cell !== '')).toEqual([...filled].reverse())
  })
})

describe('a list filters by each of its columns as one would by hand', () => {
  it.each(CASES.map(label))('%s', async (_, { list, column, kind }) => {
    const all = await columnOf(list, column, {})
    const some = all.find((cell) => cell !== '')
    if (some === undefined) {
      expect(await columnOf(list, column, { filter: `${column}=` })).toHaveLength(all.length)
      return
    }
    const kept = async (filter: string): Promise<string[]> => (await columnOf(list, column, { filter })).sort()
    const byHand = (fits: (cell: string) => boolean): string[] => all.filter(fits).sort()
    const isSame = (cell: string): boolean =>
      cell !== '' && (kind === 'number' ? Number(cell) === Number(some) : cell === some)
    expect(await kept(`${column}=${some}`)).toEqual(byHand(isSame))
    expect(await kept(`${column}!=${some}`)).toEqual(byHand((cell) => !isSame(cell)))
    expect(await kept(`${column}=`)).toEqual(byHand((cell) => cell === ''))
    if (kind !== 'text') {
      expect(await kept(`${column}>=${some}`)).toEqual(byHand((cell) => cell !== '' && before(kind, some, cell)))
      expect(await kept(`${column}<=${some}`)).toEqual(byHand((cell) => cell !== '' && before(kind, cell, some)))
    } else {
      const part = some.slice(1, 4).toLowerCase()
      expect(await kept(`${column}~${part}`)).toEqual(byHand((cell) => cell.toLowerCase().includes(part)))
    }
  })
})

describe('what a list has not', () => {
  it.each([
    ['a column to sort by', { sort: 'password' }],
    ['a column to filter by', { filter: 'password=x' }],
    ['a number', { filter: 'lines>=many' }],
    ['a day', { filter: 'dueOn<=soon' }],
  ])('%s is refused in words', async (_, query) => {
    const refusal = await refusalOf(() => listPurchases(OrderQuery.parse(query)))
    expect(refusal.problem).toMatchObject({ status: 400, detail: expect.stringMatching(/password|many|soon/) })
  })
  it('text that would be a pattern or SQL is only text', async () => {
    for (const text of ["%'", '_', "'; drop table items; --", '\\']) {
      expect((await listItems(ItemQuery.parse({ filter: `code~${text}` }))).total).toBe(0)
    }
  })
  it('a filter is read as it was written', () => {
    for (const text of ['dueOn<=2026-10-05', 'code~a=b', 'lot=', 'lot!=', 'quantity>=0.5']) {
      expect(writeFilter(readFilter(text)!)).toBe(text)
    }
    expect(readFilter('no filter')).toBeNull()
  })
})

describe('saved views', () => {
  it('are one’s own, or shared; only who made one takes it away', async () => {
    const other = {
      ...owner,
      name: 'Noor Vale',
      userId: (
        await inTransaction((tx) =>
          addPerson(tx, {
            email: 'noor@hollowmere.example',
            name: 'Noor Vale',
            role: 'buyer',
            password: 'boards-and-thread',
          }),
        )
      ).id,
    }
    const view = (name: string, isShared: boolean) =>
      NewView.parse({ list: 'items', name, query: 'sort=-value', isShared })
    await inTransaction((tx) => saveView(tx, owner, view('Dearest first', true)))
    await inTransaction((tx) => saveView(tx, owner, view('Mine', false)))
    await inTransaction((tx) => saveView(tx, owner, { ...view('Mine', false), query: 'sort=code' }))
    expect(await loadViews(owner, 'items')).toMatchObject([
      { name: 'Dearest first', isOwn: true, isShared: true },
      { name: 'Mine', query: 'sort=code', isOwn: true },
    ])
    const [seen, ...more] = await loadViews(other, 'items')
    expect(more).toEqual([])
    expect(seen).toMatchObject({ name: 'Dearest first', isOwn: false, owner: owner.name, query: 'sort=-value' })
    expect((await refusalOf((tx) => removeView(tx, other, seen!.id))).problem.status).toBe(404)
    await inTransaction((tx) => removeView(tx, owner, seen!.id))
    expect(await loadViews(other, 'items')).toEqual([])
  })
})

it('a table of the screen as a workbook has numbers as numbers and days as days', async () => {
  const file = await writeTableFile({
    name: 'Stock: on hand?',
    columns: [
      { name: 'Item', kind: 'text' },
      { name: 'On hand', kind: 'number' },
      { name: 'Expires', kind: 'day' },
    ],
    rows: [
      ['=A1+1', '0.1234', '2026-10-05'],
      ['GLUE', '', ''],
    ],
  })
  const { default: ExcelJS } = await import('exceljs')
  const book = new ExcelJS.Workbook()
  await book.xlsx.load(file as never)
  const [sheet] = book.worksheets
  expect(sheet!.getRow(1).values).toEqual([undefined, 'Item', 'On hand', 'Expires'])
  expect(sheet!.getRow(2).values).toEqual([undefined, '=A1+1', 0.1234, new Date('2026-10-05T00:00:00Z')])
  expect(sheet!.getCell('A2').formula).toBeUndefined()
})

describe('customers and suppliers by a few letters', () => {
  const add = (code: string, name: string, retired = false) =>
    inTransaction((tx) =>
      saveOne(tx, owner, shapeOf('customers'), {
        id: null,
        version: null,
        definition: schemaOf('customers').parse({ code, name, retired }) as Definition<'customers'>,
      }),
    )
  const found = async (search: string) =>
    (await findPartners(PartnerQuery.parse({ kind: 'customer', search }))).map(({ code }) => code)

  it('by words of name and code in any order, what begins with them first, and nobody who is retired', async () => {
    await add('OAK-2', 'Stationers of Zebraford')
    await add('ZEB-1', 'Oak and Ash')
    await add('ZEB-9', 'Zebra Closed Shop', true)
    expect(await found('zeb')).toEqual(['ZEB-1', 'OAK-2'])
    expect(await found('zebraford stationers')).toEqual(['OAK-2'])
    expect(await found('100%')).toEqual([])
  })
  it('no more than are offered at once, and each of many by its letters', async () => {
    for (let index = 1; index <= 35; index++) {
      await add(`MANY-${index}`, `Many number ${index} of all`)
    }
    expect(await found('many')).toHaveLength(30)
    expect(await found('number 35')).toEqual(['MANY-35'])
  })
})
