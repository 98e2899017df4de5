import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { applyImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction, rehearse } from '~~/server/database/transactions'
import { borrowHistory, correctHistory, endBorrowing, takeCorrectionBack } from '~~/server/services/demand/history'
import { historySheet, readHistory, readSeries } from '~~/server/services/demand/history-queries'
import {
  changeForecast,
  copyForecast,
  createForecast,
  deleteForecast,
  saveComputed,
} from '~~/server/services/demand/forecasts'
import { forecastSheet, listForecasts, loadForecast } from '~~/server/services/demand/forecast-queries'
import { createOrder } from '~~/server/services/demand/orders'
import { allocate } from '~~/server/services/dispatch/dispatch'
import { ship } from '~~/server/services/dispatch/ship'
import { takeSnapshot } from '~~/server/services/planning/snapshot'
import { reverse } from '~~/server/ledger/reverse'
import { HistoryQuery } from '~~/shared/demand/history'
import type { ImportName } from '~~/shared/catalogue/words'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const own = { sold: 0, other: 0, metres: 0, lark: 0, web: 0 }
beforeAll(async () => {
  Object.assign(own, {
    sold: await make('H-SOLD', { price: '10' }),
    other: await make('H-OTHER'),
    metres: await make('H-METRE', { stockUnit: 'm', buyingUnit: 'm', sellingUnit: 'm', finestStep: '0.01' }),
    lark: await idOf('customers', 'LARK'),
    web: await idOf('customers', 'WEB'),
  })
})

const file = async (table: ImportName, text: string, name = `${table}.csv`) =>
  openImport(owner, { table, fileName: name, content: Buffer.from(text).toString('base64') })
const bring = async (table: ImportName, text: string, name?: string): Promise<number> => {
  const seen = await file(table, text, name)
  expect(seen.faults).toEqual([])
  await inTransaction((tx) => applyImport(tx, owner, seen.id))
  return seen.id
}
const faults = async (table: ImportName, text: string, name?: string): Promise<string[]> =>
  (await file(table, text, name)).faults.map((fault) => `${fault.line} ${fault.column}: ${fault.detail}`)
const history = (more: object) => readHistory(HistoryQuery.parse(more), owner.today)
const byMonth = async (more: object): Promise<Record<string, string | null>> =>
  Object.fromEntries((await history(more)).periods.map((p) => [p.first.slice(0, 7), p.quantity]))

describe('past sales from a file', () => {
  it('are told every fault at its line and column, and nothing is taken in', async () => {
    expect(
      await faults(
        'past-sales',
        'item,date,quantity,unit,value,customer,site\nNO-SUCH,2026-01-05,1,piece,10,LARK,\nH-SOLD,2026-31-05,1,piece,10,LARK,\nH-SOLD,2026-01-05,some,piece,10,NOBODY,NOWHERE\nH-SOLD,2026-01-06,1,firkin,ten,,\nH-SOLD,2027-01-06,1,,10,,\n',
      ),
    ).toEqual([
      '2 item: There is no item “NO-SUCH”.',
      '3 date: “2026-31-05” is no date. Write it as year-month-day, for example 2026-10-05.',
      '4 customer: There is no customer “NOBODY”.',
      '4 site: There is no site “NOWHERE”.',
      expect.stringMatching(/^4 quantity: “some” is no number/),
      '5 unit: There is no unit “firkin”.',
      '5 value: “ten” is no amount. Write for example 12.50.',
      '6 date: 2027-01-06 is not over yet. What is ordered for later is a sales order.',
    ])
    expect(await faults('past-sales', 'item,quantity\nH-SOLD,1\n')).toEqual([
      '1 sold_on: No column of the file is matched with “sold_on”, which is needed.',
    ])
    expect(await rows(db, sql`select 1 from past_sales where item_id = ${own.sold}`)).toEqual([])
  })
  it('are summed by month, customer and site, count once, and can be taken back', async () => {
    const text =
      'item;date;quantity;unit;value;cost;customer;site\nH-SOLD;2025-03-04;3;piece;30,00;18,00;LARK;WORKSHOP\nH-SOLD;05.03.2025;2;piece;22,00;12,00;WEB;PARKSIDE\nH-SOLD;2026-03-31;4;piece;44,00;24,40;LARK;WORKSHOP\n'.replaceAll(
        ',',
        '.',
      )
    const batch = await bring('past-sales', text)
    expect(await byMonth({ itemId: own.sold })).toMatchObject({
      '2025-03': '5',
      '2025-04': '0',
      '2026-03': '4',
      '2026-10': '0',
    })
    // 30 + 22 sold for 18 + 12: a margin of 22.
    expect((await history({ itemId: own.sold })).periods[0]).toMatchObject({
      first: '2025-03-01',
      last: '2025-03-31',
      value: '5200',
      cost: '3000',
    })
    expect(await byMonth({ itemId: own.sold, customerId: own.lark })).toMatchObject({ '2025-03': '3', '2026-03': '4' })
    expect(await byMonth({ itemId: own.sold, siteId: await idOf('sites', 'PARKSIDE') })).toMatchObject({
      '2025-03': '2',
    })
    expect((await history({ itemId: own.sold, step: 'week' })).periods[0]).toMatchObject({
      first: '2025-03-03',
      quantity: '5',
    })
    expect((await historySheet(HistoryQuery.parse({ itemId: own.sold }), owner.today, true)).lines[0]).toEqual([
      '2025-03-01',
      '2025-03-31',
      '5',
      'pc',
      '52.00',
      '30.00',
      '22.00',
    ])
    expect(await faults('past-sales', text)).toHaveLength(3)
    await inTransaction((tx) => takeBack(tx, owner, batch))
    expect((await history({ itemId: own.sold })).periods).toEqual([])
    await bring('past-sales', text)
  })
  it('what is shipped counts too, at its price and cost, until it is taken back', async () => {
    await open(own.sold, '10', '6.50')
    const { id } = await inTransaction((tx) =>
      createOrder(tx, owner, {
        customerId: own.lark,
        dueOn: owner.today,
        note: '',
        lines: [{ id: null, itemId: own.sold, quantity: typedQuantity('1 + 1'), unit: 'piece', price: '11.00' }],
      }),
    )
    await inTransaction((tx) => allocate(tx, owner, id, 1))
    const shipped = await inTransaction((tx) => ship(tx, owner, id, 2))
    expect((await history({ itemId: own.sold })).periods.at(-1)).toMatchObject({
      first: '2026-10-01',
      quantity: '2',
      value: '2200',
      cost: '1300',
    })
    await inTransaction((tx) => reverse(tx, owner, shipped.postingId!))
    expect((await history({ itemId: own.sold })).periods.at(-1)).toMatchObject({
      first: '2026-10-01',
      quantity: '0',
      value: '0',
    })
  })
  it('units that differ are not added; the money is', async () => {
    await bring('past-sales', 'item,sold_on,quantity,unit,value\nH-METRE,2026-05-05,2.5,m,40\n')
    const all = await history({ groupId: await idOf('item_groups', 'CLOTH') })
    expect(all.symbol).toBeNull()
    expect(all.periods.find((p) => p.first === '2026-05-01')).toMatchObject({
      quantity: null,
      value: '4000',
      cost: null,
    })
  })
})

describe('what forecasts take history for', () => {
  const values = async (itemId: number): Promise<Record<string, number>> => {
    const [series] = await readSeries({ step: 'month', itemIds: [itemId] }, owner.today)
    return Object.fromEntries(
      series!.history!.periods.map((p, index) => [p.first.slice(0, 7), series!.history!.series.values[index]!]),
    )
  }
  it('a corrected month counts as said, the books do not change, and it is taken back', async () => {
    const { id } = await inTransaction((tx) =>
      correctHistory(tx, owner, {
        itemId: own.sold,
        firstOn: '2025-03-01',
        lastOn: '2025-03-31',
        quantity: '1.5',
        reason: 'one order',
      }),
    )
    expect((await values(own.sold))['2025-03']).toBe(1.5)
    expect((await byMonth({ itemId: own.sold }))['2025-03']).toBe('5')
    expect((await history({ itemId: own.sold })).corrections).toMatchObject([
      { firstOn: '2025-03-01', quantity: '1.5', reason: 'one order', who: 'Ines Hartwell' },
    ])
    expect(
      (
        await refusalOf((tx) =>
          correctHistory(tx, owner, {
            itemId: own.sold,
            firstOn: '2025-03-15',
            lastOn: '2025-04-15',
            quantity: '1',
            reason: '',
          }),
        )
      ).fields?.firstOn,
    ).toContain('corrected already')
    await inTransaction((tx) => takeCorrectionBack(tx, owner, id))
    expect((await values(own.sold))['2025-03']).toBe(5)
    expect((await refusalOf((tx) => takeCorrectionBack(tx, owner, id))).code).toBe('not-found')
  })
  it('a new item borrows 75 % of another’s sales until a day', async () => {
    await inTransaction((tx) =>
      borrowHistory(tx, owner, { itemId: own.other, fromItemId: own.sold, percent: '75', untilOn: '2025-12-31' }),
    )
    // 5 × 0.75; the sales of March 2026 lie behind the day.
    expect(await values(own.other)).toMatchObject({ '2025-03': 3.75, '2026-03': 0 })
    expect((await history({ itemId: own.other })).borrowing).toMatchObject({ code: 'H-SOLD', percent: '75' })
    expect((await history({ itemId: own.sold })).lentTo).toMatchObject([{ code: 'H-OTHER' }])
    expect(
      (
        await refusalOf((tx) =>
          borrowHistory(tx, owner, { itemId: own.other, fromItemId: own.other, percent: '75', untilOn: '2025-12-31' }),
        )
      ).fields?.fromItemId,
    ).toContain('from itself')
    expect(
      (
        await refusalOf((tx) =>
          borrowHistory(tx, owner, { itemId: own.other, fromItemId: own.metres, percent: '75', untilOn: '2025-12-31' }),
        )
      ).fields?.fromItemId,
    ).toContain('held in')
    await inTransaction((tx) => endBorrowing(tx, owner, own.other))
    expect((await refusalOf((tx) => endBorrowing(tx, owner, own.other))).code).toBe('not-found')
  })
  it('without naming items, everything that was ever sold comes', async () => {
    const codes = (await readSeries({ step: 'month' }, owner.today)).map((series) => series.code)
    expect(codes).toEqual(expect.arrayContaining(['NB-A5-NAVY', 'NB-A5-GREEN', 'H-SOLD']))
    expect(codes).not.toContain('BOARD-2')
  })
})

describe('forecasts', () => {
  const cellsOf = async (id: number, code: string) =>
    (await loadForecast(id)).rows.find((row) => row.code === code)?.cells ?? {}
  const computed = (itemId: number, expected: number[]) => ({
    itemId,
    wanted: null,
    method: 'average' as const,
    parameters: { days: 90 },
    reason: 'best' as const,
    sentence: 'Because.',
    deviation: 2,
    compared: [],
    expected,
    ranges: expected.map((v) => ({ low80: v - 1, high80: v + 1, low95: v - 2, high95: v + 2 })),
  })
  it('go by whole months, take quantities to the finest step, and keep what was typed over beside what was computed', async () => {
    const { id } = await inTransaction((tx) =>
      createForecast(tx, owner, {
        name: 'Quarter',
        note: '',
        step: 'month',
        firstOn: '2027-01-10',
        lastOn: '2027-03-03',
      }),
    )
    expect(await loadForecast(id)).toMatchObject({
      firstOn: '2027-01-01',
      lastOn: '2027-03-31',
      periods: [{ first: '2027-01-01' }, { first: '2027-02-01' }, { first: '2027-03-01' }],
    })
    await inTransaction((tx) =>
      saveComputed(tx, owner, id, { version: 1, over: false, items: [computed(own.sold, [2.4, 2.4, 2.4])] }),
    )
    // 2.4, 4.8, 7.2 rounded as running totals: 2, 5, 7.
    expect(await cellsOf(id, 'H-SOLD')).toEqual({
      '2027-01-01': { quantity: '2', computed: '2' },
      '2027-02-01': { quantity: '3', computed: '3' },
      '2027-03-01': { quantity: '2', computed: '2' },
    })
    await inTransaction((tx) =>
      changeForecast(tx, owner, id, {
        version: 2,
        cells: [{ itemId: own.sold, startsOn: '2027-02-01', quantity: '9' }],
      }),
    )
    await inTransaction((tx) =>
      saveComputed(tx, owner, id, { version: 3, over: false, items: [computed(own.sold, [5, 5, 5])] }),
    )
    expect(await cellsOf(id, 'H-SOLD')).toMatchObject({
      '2027-01-01': { quantity: '5' },
      '2027-02-01': { quantity: '9', computed: '5' },
    })
    // An emptied cell goes back to what was computed; a nought typed over it stays.
    await inTransaction((tx) =>
      changeForecast(tx, owner, id, {
        version: 4,
        cells: [
          { itemId: own.sold, startsOn: '2027-02-01', quantity: '' },
          { itemId: own.sold, startsOn: '2027-03-01', quantity: '0' },
        ],
      }),
    )
    expect(await cellsOf(id, 'H-SOLD')).toMatchObject({
      '2027-02-01': { quantity: '5' },
      '2027-03-01': { quantity: '0', computed: '5' },
    })
    await inTransaction((tx) =>
      saveComputed(tx, owner, id, { version: 5, over: true, items: [computed(own.sold, [6, 6, 6])] }),
    )
    expect(await cellsOf(id, 'H-SOLD')).toMatchObject({ '2027-03-01': { quantity: '6' } })
    expect(
      (
        await refusalOf((tx) =>
          saveComputed(tx, owner, id, { version: 6, over: false, items: [computed(own.sold, [6])] }),
        )
      ).detail,
    ).toContain('other periods')
    expect(
      (
        await refusalOf((tx) =>
          saveComputed(tx, owner, id, { version: 2, over: false, items: [computed(own.sold, [6, 6, 6])] }),
        )
      ).code,
    ).toBe('stale-version')
  })
  it('are copied, moved by months and multiplied, and go with their plans kept', async () => {
    const [quarter] = (await listForecasts()).filter((forecast) => forecast.name === 'Quarter')
    const copy = await inTransaction((tx) =>
      copyForecast(tx, owner, quarter!.id, { name: 'What if', shift: 12, percent: '125' }),
    )
    expect(await loadForecast(copy.id)).toMatchObject({
      firstOn: '2028-01-01',
      lastOn: '2028-03-31',
      note: 'Copy of “Quarter”, moved by 12 months, 125 %',
    })
    // 6 × 1.25 = 7.5, to whole pieces 8.
    expect(await cellsOf(copy.id, 'H-SOLD')).toEqual({
      '2028-01-01': { quantity: '8', computed: null },
      '2028-02-01': { quantity: '8', computed: null },
      '2028-03-01': { quantity: '8', computed: null },
    })
    expect(
      (await refusalOf((tx) => copyForecast(tx, owner, quarter!.id, { name: 'What if', shift: 0, percent: '100' })))
        .fields?.name,
    ).toContain('already')
    await inTransaction((tx) =>
      changeForecast(tx, owner, copy.id, { version: 1, name: 'Renamed', without: [own.sold] }),
    )
    expect(await loadForecast(copy.id)).toMatchObject({ name: 'Renamed', rows: [] })
    await inTransaction((tx) => deleteForecast(tx, owner, copy.id))
    expect((await refusalOf((tx) => deleteForecast(tx, owner, copy.id))).code).toBe('not-found')
  })
  it('come from a file with a column a month, by its name, and go out the same', async () => {
    const batch = await bring(
      'forecast',
      'item,unit,2027-04-01,2027-05-01\nH-SOLD,piece,4,\nH-METRE,m,1.25,2\n',
      'Spring.csv',
    )
    const [spring] = (await listForecasts()).filter((forecast) => forecast.name === 'Spring')
    expect(spring).toMatchObject({ step: 'month', firstOn: '2027-04-01', lastOn: '2027-05-31', items: 2 })
    const sheet = await forecastSheet(spring!.id)
    expect(sheet).toMatchObject({ headings: ['item', 'name', 'unit', '2027-04-01', '2027-05-01'] })
    expect(sheet.lines.map((line) => [line[0], ...line.slice(3)])).toEqual([
      ['H-METRE', '1.25', '2'],
      ['H-SOLD', '4', ''],
    ])
    await inTransaction((tx) => takeBack(tx, owner, batch))
    expect((await listForecasts()).some((forecast) => forecast.name === 'Spring')).toBe(false)
  })
  it('come from a file with a line a period; faults name their cells; what was there comes back when it is taken back', async () => {
    expect(
      await faults(
        'forecast',
        'forecast,item,month,quantity\nQuarter,H-SOLD,2027-01-15,1\nQuarter,H-SOLD,2027-07-01,1\nQuarter,NO-SUCH,2027-01,1\nQuarter,H-SOLD,2027-02,many\nQuarter,H-SOLD,2027-03,1\nQuarter,H-SOLD,2027-03-01,2\n',
      ),
    ).toEqual([
      expect.stringMatching(/^4 item: There is no item/),
      expect.stringMatching(/^5 quantity: “many” is no number/),
      expect.stringMatching(/^2 quantity: 2027-01-15 is not the first day of a month/),
      expect.stringMatching(/^3 quantity: “Quarter” goes from 2027-01-01 to 2027-03-31/),
      expect.stringMatching(/^7 quantity: This item and period are in the file twice/),
    ])
    expect(await faults('forecast', 'item,amount\nH-SOLD,1\n')).toEqual([
      expect.stringContaining('Name a column “period”'),
    ])
    const id = (await listForecasts()).find((forecast) => forecast.name === 'Quarter')!.id
    const batch = await bring(
      'forecast',
      'forecast,item,month,quantity\nQuarter,H-SOLD,2027-01,17\nQuarter,H-OTHER,2027-01,3\n',
    )
    expect([await cellsOf(id, 'H-SOLD'), await cellsOf(id, 'H-OTHER')]).toMatchObject([
      { '2027-01-01': { quantity: '17', computed: '6' } },
      { '2027-01-01': { quantity: '3' } },
    ])
    await inTransaction((tx) => takeBack(tx, owner, batch))
    expect([await cellsOf(id, 'H-SOLD'), await cellsOf(id, 'H-OTHER')]).toMatchObject([
      { '2027-01-01': { quantity: '6' } },
      {},
    ])
  })
  it('several feed a plan together; of a month that has begun, the rest of its working days counts', async () => {
    const forecast = async (
      name: string,
      step: 'month' | 'week',
      firstOn: string,
      lastOn: string,
      quantity: string,
    ): Promise<number> => {
      const { id } = await inTransaction((tx) => createForecast(tx, owner, { name, note: '', step, firstOn, lastOn }))
      await inTransaction((tx) =>
        changeForecast(tx, owner, id, { version: 1, cells: [{ itemId: own.other, startsOn: firstOn, quantity }] }),
      )
      return id
    }
    const ids = [
      await forecast('A month', 'month', '2026-10-01', '2026-10-31', '22'),
      await forecast('A week', 'week', '2026-10-12', '2026-10-18', '7'),
    ]
    const asked = async (forecastIds: number[]): Promise<[string, number][]> =>
      (
        await takeSnapshot(db, {
          start: '2026-10-05',
          end: '2026-12-31',
          demandRule: 'both',
          forecastIds,
          forecastFalls: 'first day',
        })
      ).demands
        .filter((demand) => demand.node === String(own.other))
        .map((demand) => [demand.day, demand.quantity])
    // October 2026 has 22 working days in the bindery’s week, two of them before the 5th: 20 are left.
    expect(await asked(ids)).toEqual([
      ['2026-10-05', 20],
      ['2026-10-12', 7],
    ])
    expect(await asked([ids[1]!])).toEqual([['2026-10-12', 7]])
    await rehearse(async (tx) => deleteForecast(tx, owner, ids[0]!))
  })
})
