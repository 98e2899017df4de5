import { setImmediate } from 'node:timers/promises'
import { sql } from 'drizzle-orm'
import ExcelJS from 'exceljs'
import { describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { loadDefinition } from '~~/server/services/catalogue/definitions'
import { applyImport, previewImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { listBatches, stopBatch } from '~~/server/services/catalogue/tables/batch-queries'
import { exportCatalogue } from '~~/server/services/catalogue/tables/write-file'
import { setMany } from '~~/server/services/catalogue/set-many'
import { inTransaction } from '~~/server/database/transactions'
import { SetMany } from '~~/shared/catalogue/requests'
import { TABLES, type TableName } from '~~/shared/catalogue/words'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()

const file = (table: TableName, text: string | Buffer, fileName = `${table}.csv`) =>
  openImport(owner, { table, fileName, content: Buffer.from(text).toString('base64') })
const load = async (code: string) => loadDefinition(db, 'items', await idOf('items', code))
const counts = async () =>
  (
    await rows<{ n: string }>(
      db,
      sql`
        select concat_ws(
          ' ', (select count(*) from items), (select count(*) from item_relations),
          (select count(*) from changes), (select sum(version) from items)
        ) as n`,
    )
  )[0]!.n

describe('what goes out comes in again without a change', () => {
  it.each(TABLES)('%s as CSV and as XLSX', async (table) => {
    for (const format of ['csv', 'xlsx'] as const) {
      const preview = await file(table, await exportCatalogue(table, format), `${table}.${format}`)
      expect([preview.faults, preview.made, preview.changed]).toEqual([[], 0, 0])
      expect(preview.rows).toBeGreaterThan(0)
    }
  })
})

describe('a file with faults', () => {
  const bad =
    'Code;Name;Group;Stock Unit;Safety stock;Tracking\nZ-1;Zinc plate;TOOLS;piece;1,5;none\nZ-1;Again;TOOLS;piece;0;none\n;No code;TOOLS;piece;0;none\nZ-2;;NOWHERE;crate;x;pallet\nAWL;Awl;TOOLS;kg;0;none\n'
  it('is told by line and column, all of it, and nothing is taken in', async () => {
    const before = await counts()
    const preview = await file('items', bad)
    expect(preview.mapping).toMatchObject({
      code: 'Code',
      stock_unit: 'Stock Unit',
      safety_stock: 'Safety stock',
      lead_days: null,
    })
    const COLUMNS = ['Code', 'Name', 'Group', 'Stock Unit', 'Safety stock', 'Tracking']
    expect(
      [...preview.faults]
        .sort((a, b) => a.line - b.line || COLUMNS.indexOf(a.column) - COLUMNS.indexOf(b.column))
        .map((f) => `${f.line} ${f.column}: ${f.detail}`),
    ).toEqual([
      '2 Safety stock: “1,5” is no number for the safety stock. Write for example 2 or 0.25.',
      '3 Code: Z-1 is in the file twice, first in line 2.',
      '4 Code: The code is missing.',
      '5 Name: The name is missing.',
      '5 Group: There is no group “NOWHERE”.',
      '5 Stock Unit: There is no unit “crate”. Add it to the units first.',
      '5 Safety stock: “x” is no number for the safety stock. Write for example 2 or 0.25.',
      '5 Tracking: “pallet” is not one of: none, lot, piece.',
      '6 Code: Nothing says how piece relates to kilogram. Add a pack or a bridge between them on the item.',
      '6 Stock Unit: Stock of this item has moved, so its stock unit stays. Make a new item in the other unit.',
    ])
    expect((await refusalOf((tx) => applyImport(tx, owner, preview.id))).detail).toMatch(/^Line 2, Safety stock/)
    expect(await counts()).toBe(before)
  })
  it('the columns can be matched by hand', async () => {
    const preview = await file('items', 'Artikel,Bezeichnung,Gruppe\nZ-7,Zwinge,TOOLS\n')
    expect(preview.faults.map((f) => f.detail)).toEqual([
      'No column of the file is matched with “code”, which is needed.',
    ])
    const again = await previewImport(owner, preview.id, {
      ...preview.mapping,
      code: 'Artikel',
      name: 'Bezeichnung',
      group: 'Gruppe',
    })
    expect([again.faults, again.made, again.changed]).toEqual([[], 1, 0])
  })
  it.each([
    [
      'item-units',
      'item,unit,holds,of\nBONE,carton,12,piece\nBONE,carton,1,dozen\nNIX,carton,3,piece\n',
      ['4 item: There is no item “NIX”.'],
    ],
    [
      'item-units',
      'item,unit,holds,of\nBONE,carton,12,piece\nBONE,carton,2,dozen\n',
      ['3 holds: 1 carton = 2 dozen contradicts the path carton → piece → dozen, by which it is 1 dozen.'],
    ],
    [
      'item-codes',
      'item,code,kind\nBONE,9520000000011,barcode\nWAX,9520000000012,barcode\n',
      [
        '2 code: The barcode 9520000000011 is that of NB-A5-NAVY.',
        '3 code: The last digit of 9520000000012 should be 1. Compare it with the label.',
      ],
    ],
    [
      'price-tiers',
      'item,supplier,from_quantity,price\nBONE,GLINT,10,1\nBONE,TULLY,ten,1\n',
      [
        '2 supplier: BONE has no terms of this supplier. Bring those in first.',
        '3 from_quantity: “ten” is no number for the quantity. Write for example 2 or 0.25.',
      ],
    ],
    [
      'stock-marks',
      'item,safety_stock,maximum_stock\nBONE,40,30\n',
      [
        '2 maximum_stock: The maximum of 30 lies below the safety stock of 40. From low to high they are: safety stock, reorder point, target, maximum.',
      ],
    ],
    [
      'groups',
      'code,name,parent\nNEW-A,A,NEW-B\nNEW-B,B,NEW-A\n',
      ['2 parent: There is no group “NEW-B”.', '3 parent: There is no group “NEW-A”.'],
    ],
    [
      'closed-days',
      'calendar,day\nBindery week,2026-13-40\n',
      ['2 day: “2026-13-40” is no date. Write it as year-month-day, for example 2026-10-05.'],
    ],
  ] as const)('%s', async (table, text, faults) => {
    expect((await file(table, text)).faults.map((f) => `${f.line} ${f.column}: ${f.detail}`)).toEqual(faults)
  })
  it('begins an item with the finest step that its stock unit’s decimals say: 10.4 kg stay 10.4 kg', async () => {
    await inTransaction(async (tx) => applyImport(tx, owner, (await file('groups', 'code,name\nSTEPS,By weight\n')).id))
    const items = 'code,name,group,stock unit\nSTEP-KG,Paste,STEPS,kg\nSTEP-M,Cord,STEPS,m\nSTEP-PC,Peg,STEPS,piece\n'
    const seen = await file('items', items)
    expect(seen.faults).toEqual([])
    await inTransaction((tx) => applyImport(tx, owner, seen.id))
    const made = await Promise.all(['STEP-KG', 'STEP-M', 'STEP-PC'].map(load))
    expect(made.map((item) => item.finestStep)).toEqual(['0.001', '0.01', '1'])
  })
  it('that is no table at all is told', async () => {
    await expect(file('items', Buffer.from([0, 1, 2, 3]), 'x.xlsx')).rejects.toThrow(
      'The file could not be read as a workbook.',
    )
    await expect(file('items', '\n\n')).rejects.toThrow('The file has no line of headings.')
  })
})

describe('a file that is right', () => {
  it('adds and changes, leaves what it does not name, and is undone as a whole', async () => {
    const before = await load('WAX')
    const text =
      'code,name,group,price\nWAX,"Beeswax block, 30 g",TOOLS,3.10\nHAMMER,Backing hammer,TOOLS,38.00\nGROUP-CODE,By the group,ADHESIVES,\n'
    const preview = await file('items', text)
    expect([preview.made, preview.changed, preview.faults]).toEqual([2, 1, []])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    expect(await load('WAX')).toMatchObject({
      name: 'Beeswax block, 30 g',
      price: '3.10',
      safetyStock: before.safetyStock,
      terms: before.terms,
      codes: before.codes,
    })
    expect(await load('GROUP-CODE')).toMatchObject({
      tracking: 'lot',
      shelfLifeDays: 540,
      source: 'bought',
      inherited: ['source', 'tracking', 'shelfLifeDays'],
    })
    expect((await listBatches())[0]).toMatchObject({ label: 'items.csv', made: 2, changed: 1, state: 'done' })
    expect((await refusalOf((tx) => applyImport(tx, owner, preview.id))).detail).toBe('This file was taken in already.')
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
    expect({ ...(await load('WAX')), version: 0 }).toEqual({ ...before, version: 0 })
    expect(await rows(db, sql`select 1 from items where code in ('HAMMER', 'GROUP-CODE')`)).toHaveLength(0)
    expect((await refusalOf((tx) => takeBack(tx, owner, preview.id))).detail).toBe('There is nothing to take back.')
  })
  it('is not undone over what was changed since', async () => {
    const preview = await file('items', 'code,name,group\nMALLET,Mallet,TOOLS\n')
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    const later = await file('items', 'code,name,group\nMALLET,Wooden mallet,TOOLS\n')
    await inTransaction((tx) => applyImport(tx, owner, later.id))
    expect((await refusalOf((tx) => takeBack(tx, owner, preview.id))).detail).toBe(
      'MALLET has been changed since. Undo that first.',
    )
  })
  it('reads the numbers, dates and ticks of a workbook, and Windows-1252', async () => {
    const book = new ExcelJS.Workbook()
    const sheet = book.addWorksheet('Marks')
    sheet.addRows([
      ['item', 'from on', 'until on', 'yearly', 'safety stock'],
      ['BONE', new Date('2026-11-01'), new Date('2027-01-31'), true, 12.5],
    ])
    const preview = await file('stock-marks', Buffer.from(await book.xlsx.writeBuffer()), 'marks.xlsx')
    expect([preview.faults, preview.changed]).toEqual([[], 1])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    expect((await load('BONE')).marks).toEqual([
      {
        siteId: null,
        fromOn: '2026-11-01',
        untilOn: '2027-01-31',
        yearly: true,
        safetyStock: '12.5',
        reorderPoint: null,
        targetStock: null,
        maximumStock: null,
      },
    ])
    const old = await file('items', Buffer.from('code,name,group\nK-1,K\xF6rnung \xBD,TOOLS\n', 'latin1'))
    expect(old.sample[0]!.name).toBe('Körnung ½')
  })
  it('stops where its owner wants that, and nothing is changed', async () => {
    const lines = Array.from({ length: 4000 }, (_, i) => `STOP-${i},Stop ${i},TOOLS`).join('\n')
    const preview = await file('items', `code,name,group\n${lines}\n`)
    const before = await counts()
    const running = inTransaction((tx) => applyImport(tx, owner, preview.id))
    const ended = (): false => false
    const stopping = (async () => {
      for (let isRunning = true; isRunning;) {
        await stopBatch(preview.id)
        isRunning = await Promise.race([running.then(ended, ended), setImmediate(true)])
      }
    })()
    await expect(running).rejects.toThrow('Stopped. Nothing was changed.')
    await stopping
    expect(await counts()).toBe(before)
  })
})

describe('one field of many items', () => {
  const set = (fields: object) => inTransaction((tx) => setMany(tx, owner, SetMany.parse(fields)))
  it('is tried first, done as a whole, and undone as a whole', async () => {
    const ids = [await idOf('items', 'BRUSH-20'), await idOf('items', 'BRUSH-40'), await idOf('items', 'KNIFE')]
    const before = await counts()
    const tried = await set({ ids, field: 'safetyStock', value: '4', dry: true })
    expect(tried.changes.map((c) => `${c.code} ${c.before} → ${c.after}`)).toEqual([
      'BRUSH-20 0 → 4',
      'BRUSH-40 0 → 4',
      'KNIFE 0 → 4',
    ])
    expect(await counts()).toBe(before)
    const done = await set({ ids, field: 'safetyStock', value: '4' })
    expect([(await load('KNIFE')).safetyStock, done.changing]).toEqual(['4', 3])
    await inTransaction((tx) => takeBack(tx, owner, done.batchId!))
    expect((await load('KNIFE')).safetyStock).toBe('0')
  })
  it('a value that one of them cannot have is told beside it, and none is set', async () => {
    const ids = [await idOf('items', 'NEEDLE'), await idOf('items', 'BRUSH-20')]
    expect((await set({ ids, field: 'safetyStock', value: '80', dry: true })).faults).toEqual([
      {
        code: 'NEEDLE',
        detail:
          'The reorder point of 40 lies below the safety stock of 80. From low to high they are: safety stock, reorder point, target, maximum.',
      },
    ])
    await expect(set({ ids, field: 'safetyStock', value: '80' })).rejects.toThrow('NEEDLE: The reorder point of 40')
    expect((await load('BRUSH-20')).safetyStock).toBe('0')
  })
  it('can follow the group again', async () => {
    const glue = await idOf('items', 'GLUE-BOTTLE')
    const done = await set({ ids: [glue], field: 'shelfLifeDays', value: '', inherit: true })
    expect(done.changes.map((c) => `${c.before} → ${c.after}`)).toEqual(['365 → 540'])
    expect((await load('GLUE-BOTTLE')).inherited).toContain('shelfLifeDays')
  })
})
