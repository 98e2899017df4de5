import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { applyImport, previewImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { correct, moveStock } from '~~/server/services/stock/correct'
import { countFile, countSheet, enterCountFile } from '~~/server/services/stock/count-sheet'
import { addCountLine, approveCount, cancelCount, createCount } from '~~/server/services/stock/counts'
import { enterCounts } from '~~/server/services/stock/enter-counts'
import { listCounts, loadCount } from '~~/server/services/stock/count-queries'
import { dueItems } from '~~/server/services/stock/counts-due'
import { traceGoods } from '~~/server/services/stock/genealogy'
import { suggestBins } from '~~/server/services/stock/detail'
import { listBalances } from '~~/server/services/stock/queries'
import { listMoves } from '~~/server/services/stock/move-queries'
import { checkLedger } from '~~/server/ledger/check'
import { recallFile } from '~~/server/services/stock/recall-file'
import { reverse } from '~~/server/ledger/reverse'
import { createBuild } from '~~/server/services/workshop/builds'
import { completeBuild } from '~~/server/services/workshop/record-build'
import { StockQuery } from '~~/shared/stock/requests'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

describe('stock counts', () => {
  const count = (more: object) =>
    inTransaction((tx) =>
      createCount(tx, owner, {
        name: 'Test',
        kind: 'items',
        siteId: null,
        binIds: [],
        groupIds: [],
        itemIds: [],
        withNone: false,
        blind: true,
        recountOver: '',
        ...more,
      }),
    )
  it('goods that move during a count make no difference; a big one is counted again; all is recorded as one and can be reversed', async () => {
    const [bolts, nuts, pins] = [await make('BOLT'), await make('NUT'), await make('PIN')]
    await open(bolts, '100', '0.10')
    await open(nuts, '50', '2')
    await open(pins, '10', '1')
    const { id, lines } = await count({ itemIds: [bolts, nuts, pins], recountOver: '5' })
    expect(lines).toBe(3)
    const sheet = await loadCount(id, false)
    expect([sheet.hidden, sheet.lines.map((line) => [line.code, line.booked])]).toEqual([
      true,
      [
        ['BOLT', null],
        ['NUT', null],
        ['PIN', null],
      ],
    ])
    const lineOf = (code: string): number => sheet.lines.find((line) => line.code === code)!.id
    const enter = (code: string, quantity: string) =>
      inTransaction((tx) =>
        enterCounts(tx, owner, id, {
          lines: [{ lineId: lineOf(code), quantity: typedQuantity(quantity), unit: 'piece', note: '' }],
        }),
      )
    await enter('BOLT', '97')
    await inTransaction((tx) =>
      moveStock(tx, owner, {
        itemId: bolts,
        fromBinId: here.shelf,
        toBinId: here.rack,
        lot: '',
        quantity: typedQuantity('30'),
        unit: 'piece',
      }),
    )
    // 3 fewer at 2.00 are 6.00, over 5.00; then 49: 1 fewer
    expect((await enter('NUT', '47')).again).toEqual([lineOf('NUT')])
    expect((await loadCount(id, false)).lines.find((line) => line.code === 'NUT')).toMatchObject({
      counted: null,
      recount: true,
      first: null,
    })
    expect((await refusalOf((tx) => approveCount(tx, owner, id, { version: 1, uncounted: 'refuse' }))).detail).toBe(
      '2 of 3 lines are not counted yet. Count them, or say that they stay as the books have them.',
    )
    await enter('NUT', '49')
    // none of 10 at 1.00 are 10.00: again
    expect((await enter('PIN', '0')).again).toEqual([lineOf('PIN')])
    await enter('PIN', '0')
    const done = await inTransaction((tx) => approveCount(tx, owner, id, { version: 1, uncounted: 'refuse' }))
    // 3 × 0.10 + 1 × 2.00 + 10 × 1.00
    expect(done).toMatchObject({ differences: 3, value: '1230' })
    expect([await onHand('BOLT'), await onHand('NUT'), await onHand('PIN')]).toEqual(['97', '49', '0'])
    expect((await listCounts())[0]).toMatchObject({
      lines: 3,
      right: 0,
      worth: '-1230',
      off: '1230',
      status: 'recorded',
    })
    await inTransaction((tx) => reverse(tx, owner, done.postingId!))
    expect([
      await onHand('BOLT'),
      await onHand('NUT'),
      await onHand('PIN'),
      (await loadCount(id, true)).status,
    ]).toEqual(['100', '50', '10', 'open'])
    await inTransaction((tx) => cancelCount(tx, owner, id, 3))
  })
  it('more than the books say comes in at the average; what is found elsewhere is added to the sheet; zero is a quantity', async () => {
    const item = await make('FOUND')
    await open(item, '4', '3')
    const { id } = await count({ itemIds: [item] })
    const { lineId } = await inTransaction((tx) =>
      addCountLine(tx, owner, id, { itemId: item, binId: here.rack, lot: '', piece: '' }),
    )
    expect(
      (await refusalOf((tx) => addCountLine(tx, owner, id, { itemId: item, binId: here.rack, lot: '', piece: '' })))
        .code,
    ).toBe('taken')
    const [first] = (await loadCount(id, false)).lines
    await inTransaction((tx) =>
      enterCounts(tx, owner, id, {
        lines: [
          { lineId: first!.id, quantity: typedQuantity('4'), unit: 'piece', note: '' },
          { lineId, quantity: typedQuantity('1'), unit: 'dozen', note: 'behind the press' },
        ],
      }),
    )
    await inTransaction((tx) => approveCount(tx, owner, id, { version: 1, uncounted: 'refuse' }))
    expect([await onHand('FOUND'), await valueOf('FOUND')]).toEqual(['16', '4800'])
  })
  it('goes out as a file and comes back filled in; a wrong line takes nothing in', async () => {
    const item = await make('BYFILE')
    await open(item, '5', '1')
    const { id } = await count({ itemIds: [item] })
    const { text } = await countFile(id)
    const [head, line] = text.replace('\uFEFF', '').trim().split('\n')
    expect(head).toBe('line,site,bin,item,name,lot,piece,status,counted,unit,note')
    const filled = (quantity: string): Buffer =>
      Buffer.from(`${head}\n${line!.replace(',available,,', `,available,${quantity},`)}\n`)
    expect((await refusalOf((tx) => enterCountFile(tx, owner, id, 'count.csv', filled('six')))).detail).toMatch(
      /^Line 2, counted “six”: .* Nothing was taken in\.$/,
    )
    expect(
      (await refusalOf((tx) => enterCountFile(tx, owner, id, 'count.csv', Buffer.from('a,b\n1,2\n')))).detail,
    ).toContain('no column “line”')
    expect((await refusalOf((tx) => enterCountFile(tx, owner, id, 'count.csv', filled('')))).detail).toContain(
      'No line of the file has a quantity',
    )
    await inTransaction((tx) => enterCountFile(tx, owner, id, 'count.csv', filled('6')))
    expect((await loadCount(id, true)).lines[0]).toMatchObject({ counted: '6', booked: '5', worth: '100' })
    expect((await countSheet(id)).bytes.subarray(0, 5).toString()).toBe('%PDF-')
  })
  it('what is due comes from the interval of the group, else from the class; a counted item waits', async () => {
    const before = (await dueItems(db, '2026-10-05')).map((item) => item.code)
    expect(before).toContain('NUT')
    const { id } = await count({ itemIds: [await idOf('items', 'NUT')] })
    const [line] = (await loadCount(id, true)).lines
    await inTransaction((tx) =>
      enterCounts(tx, owner, id, {
        lines: [{ lineId: line!.id, quantity: typedQuantity('50'), unit: 'piece', note: '' }],
      }),
    )
    await inTransaction((tx) => approveCount(tx, owner, id, { version: 1, uncounted: 'refuse' }))
    expect((await dueItems(db, '2026-10-05')).map((item) => item.code)).not.toContain('NUT')
    // its group says every 45 days
    expect((await dueItems(db, '2026-11-18')).map((item) => item.code)).not.toContain('NUT')
    expect((await dueItems(db, '2026-11-19')).find((item) => item.code === 'NUT')).toMatchObject({
      class: 'C',
      everyDays: 45,
      lateDays: 0,
    })
    // no group says anything of a bone folder, and none was ever used, so class C: 180 days after 7 September 2026
    expect((await dueItems(db, '2027-03-05')).map((item) => item.code)).not.toContain('BONE')
    expect((await dueItems(db, '2027-03-06')).find((item) => item.code === 'BONE')).toMatchObject({
      class: 'C',
      everyDays: 180,
      lateDays: 0,
    })
    await rows(db, sql`update item_groups set defaults = defaults || '{"countDays": 7}' where code = 'CLOTH'`)
    expect((await dueItems(db, '2026-10-12')).find((item) => item.code === 'NUT')).toMatchObject({
      everyDays: 7,
      lateDays: 0,
    })
  })
  it('a role’s limit holds for counts and corrections; nothing is half recorded', async () => {
    await rows(db, sql`update company set correction_limits = '{"stockkeeper": "500"}'`)
    const keeper = { ...owner, role: 'stockkeeper' as const }
    const less = {
      itemId: await idOf('items', 'NUT'),
      binId: here.shelf,
      lot: '',
      direction: 'less' as const,
      quantity: typedQuantity('3'),
      unit: 'piece',
      reason: 'theft' as const,
      unitCost: '',
      expiresOn: null,
    }
    const refusal = await refusalOf((tx) => correct(tx, keeper, less))
    expect([refusal.code, refusal.detail]).toEqual([
      'missing-right',
      'This is worth 6.00. As stockkeeper you may correct up to 5.00 at once; ask an owner to record it.',
    ])
    expect(await onHand('NUT')).toBe('50')
    await inTransaction((tx) => correct(tx, keeper, { ...less, quantity: typedQuantity('2') }))
    expect(await onHand('NUT')).toBe('48')
    await rows(db, sql`update company set correction_limits = '{}'`)
  })
})

describe('genealogy', () => {
  const billOf = (itemId: number, componentId: number, each = '1'): Promise<unknown> =>
    rows(
      db,
      sql`
        with b as (
          insert into boms (item_id, revision, name, from_on, batch_size, batch_unit)
          values (${itemId}, 1, ${`bill of ${itemId}`}, '2026-01-01', 1, 'piece')
          returning id
        )
        insert into bom_lines (bom_id, position, item_id, numerator, denominator, unit)
        select id, 1, ${componentId}, ${each}::numeric, 1, 'piece'
        from b`,
    )
  const build = async (itemId: number, quantity: string, lot: string) => {
    const { id } = await inTransaction((tx) =>
      createBuild(tx, owner, { itemId, quantity: typedQuantity(quantity), unit: 'piece', dueOn: '2026-10-08' }),
    )
    return inTransaction((tx) => completeBuild(tx, owner, id, { version: 1, binId: here.shelf, lot, expiresOn: null }))
  }

  it('follows a glue through three levels, back and forward, and leaves reversed acts out', async () => {
    const [glue, case_, book, kit] = [
      await make('G-GLUE', { tracking: 'lot' }),
      await make('G-CASE', { tracking: 'lot', source: 'made' }),
      await make('G-BOOK', { tracking: 'lot', source: 'made' }),
      await make('G-KIT', { tracking: 'lot', source: 'made' }),
    ]
    await billOf(case_, glue)
    await billOf(book, case_)
    await billOf(kit, book)
    await open(glue, '10', '1', { lot: 'GL-1' })
    await open(glue, '10', '1', { lot: 'GL-2', expiresOn: '2027-01-01' })
    await build(case_, '12', 'CA-1') // 10 of GL-2, which expires first, and 2 of GL-1
    await build(book, '6', 'BO-1')
    const undone = await build(kit, '2', 'KI-0')
    await inTransaction((tx) => reverse(tx, owner, undone.postingId))
    await build(kit, '4', 'KI-1')
    const lot = async (number: string): Promise<number> =>
      (await rows<{ id: number }>(db, sql`select id from lots where number = ${number}`))[0]!.id
    const forward = await traceGoods({ lot: await lot('GL-1'), piece: null }, 'forward')
    expect(forward.nodes.map((node) => [node.lot, node.level, node.onHand])).toEqual([
      ['GL-1', 0, '8'],
      ['CA-1', 1, '6'],
      ['BO-1', 2, '2'],
      ['KI-1', 3, '4'],
    ])
    expect(forward.edges.map((edge) => [edge.quantity, edge.on])).toEqual([
      ['2', '2026-10-05'],
      ['6', '2026-10-05'],
      ['4', '2026-10-05'],
    ])
    const back = await traceGoods({ lot: await lot('KI-1'), piece: null }, 'back')
    expect(back.nodes.map((node) => [node.lot, node.level])).toEqual([
      ['KI-1', 0],
      ['BO-1', 1],
      ['CA-1', 2],
      ['GL-1', 3],
      ['GL-2', 3],
    ])
    const file = await recallFile({ lot: await lot('GL-2'), piece: null }, 'forward')
    expect(file.text.split('\n')[0]!.replace('\uFEFF', '')).toBe(
      'level,item,name,lot,piece,by,on,still_in_stock,unit,expires_on,came_from,shipped_to,sure',
    )
    expect(file.text).toContain('3,G-KIT')
    expect((await refusalOf(async () => traceGoods({ lot: 999999, piece: null }, 'back'))).code).toBe('not-found')
  })

  // Ten of the lot go into ten parts that are kept by quantity, beside two that were there. Two books take the first
  // eight parts, a third the rest.
  it('goes on as possible through goods that are kept by quantity only, until they are used up', async () => {
    const [dye, part, book] = [
      await make('Q-DYE', { tracking: 'lot' }),
      await make('Q-PART', { source: 'made' }),
      await make('Q-BOOK', { tracking: 'lot', source: 'made' }),
    ]
    await billOf(part, dye, '1')
    await billOf(book, part, '4')
    await open(part, '2', '1')
    await open(dye, '10', '1', { lot: 'DY-1' })
    await build(part, '10', '')
    await build(book, '1', 'QB-1')
    await build(book, '2', 'QB-2')
    await open(part, '4', '1')
    await build(book, '1', 'QB-3')
    const [{ id }] = (await rows<{ id: number }>(db, sql`select id from lots where number = 'DY-1'`)) as [
      { id: number },
    ]
    const trace = await traceGoods({ lot: id, piece: null }, 'forward')
    expect(trace.nodes.map((node) => [node.lot ?? node.code, node.level, node.possible, node.onHand])).toEqual([
      ['DY-1', 0, false, '0'],
      ['Q-PART', 1, false, '0'],
      ['QB-1', 2, true, '1'],
      ['QB-2', 2, true, '2'],
    ])
    const { text } = await recallFile({ lot: id, piece: null }, 'forward')
    expect(text.split('\n').filter((line) => line.trim().endsWith('possibly'))).toHaveLength(2)
  })
})

describe('opening stock by file', () => {
  const file = (text: string) =>
    openImport(owner, {
      table: 'opening-stock',
      fileName: 'opening.csv',
      content: Buffer.from(text).toString('base64'),
    })
  it('tells every fault with its line and column, and takes nothing in', async () => {
    await make('OPEN-1', { tracking: 'lot', costing: 'first in, first out' })
    const preview = await file(
      'item,bin,lot,quantity,unit,unit_cost\nOPEN-1,SHELF-A,A,10,piece,2\nNOPE,SHELF-A,,1,piece,1\nOPEN-1,NOWHERE,B,1,piece,1\nOPEN-1,SHELF-A,,5,piece,1\nOPEN-1,SHELF-A,B,many,piece,1\nOPEN-1,SHELF-A,B,1,piece,dear\n',
    )
    expect(preview.faults.map((f) => [f.line, f.column, f.detail.slice(0, 34)])).toEqual(
      [
        [3, 'item', 'There is no item NOPE.'],
        [4, 'bin', 'There is no bin NOWHERE.'],
        [5, 'lot', 'OPEN-1 is tracked by lot. Give the'],
        [6, 'quantity', '“many” is not a quantity. Write a n'.slice(0, 34)],
        [7, 'unit_cost', 'Write a cost such as 12.50, or lea'],
      ].map(([line, column, detail]) => [line, column, expect.stringContaining(String(detail).slice(0, 6))]),
    )
    expect(await onHand('OPEN-1')).toBe('0')
    expect((await refusalOf((tx) => applyImport(tx, owner, preview.id))).detail).toContain('Line 3, item')
  })
  it('a line of an earlier day is there from that day on, and its shelf life counts from it; a day that is closed or to come is told', async () => {
    await make('OPEN-DAYS', { tracking: 'lot', shelfLifeDays: 30 })
    const faulty = await file('item,bin,lot,quantity,on\nOPEN-DAYS,SHELF-A,A,1,2027-01-01\n')
    expect(faulty.faults).toMatchObject([{ line: 2, column: 'on', detail: '2027-01-01 is still to come.' }])
    const preview = await file(
      'item,bin,lot,quantity,unit_cost,on\nOPEN-DAYS,SHELF-A,NEW,4,2,\nOPEN-DAYS,SHELF-A,OLD,6,1,2026-09-15\n',
    )
    expect([preview.faults, preview.made]).toEqual([[], 2])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    const there = await rows<{ lot: string; day: string; expires: string }>(
      db,
      sql`
        select l.number as lot, m.effective_on as day, l.expires_on as expires
        from moves m
        join lots l on l.id = m.lot_id
        join items i on i.id = m.item_id
        where i.code = 'OPEN-DAYS'
        order by m.effective_on`,
    )
    expect(there).toEqual([
      { lot: 'OLD', day: '2026-09-15', expires: '2026-10-15' },
      { lot: 'NEW', day: '2026-10-05', expires: '2026-11-04' },
    ])
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
    expect([await onHand('OPEN-DAYS'), await valueOf('OPEN-DAYS')]).toEqual(['0', '0'])
  })
  it('layers come in the order of the file, against the opening account, and can be taken back until something else moves', async () => {
    const preview = await file(
      'item;bin;lot;quantity;unit;unit_cost\nOPEN-1;SHELF-A;A;10;piece;2\nOPEN-1;SHELF-A;B;1;dozen;36\n',
    )
    expect([preview.faults, preview.made]).toEqual([[], 2])
    expect((await previewImport(owner, preview.id)).made).toBe(2)
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    // 10 at 2.00, then 12 at 3.00
    const [held] = await rows<{ layers: { quantity: string; value: string }[] }>(
      db,
      sql`select layers from holdings h join items i on i.id = h.item_id where i.code = 'OPEN-1'`,
    )
    expect(held!.layers.map((layer) => [layer.quantity, layer.value])).toEqual([
      ['10', '2000'],
      ['12', '3600'],
    ])
    const [opening] = await rows<{ amount: string }>(
      db,
      sql`
        select sum(amount)::text as amount
        from journal j
        join postings o on o.id = j.posting_id
        where o.document_kind = 'opening file' and o.document_id = ${preview.id} and place_kind = 'opening'`,
    )
    expect(opening!.amount).toBe('-5600')
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
    expect([await onHand('OPEN-1'), await valueOf('OPEN-1')]).toEqual(['0', '0'])
    const again = await file('item,bin,lot,quantity,unit_cost\nOPEN-1,SHELF-A,A,10,2\n')
    await inTransaction((tx) => applyImport(tx, owner, again.id))
    await inTransaction(async (tx) =>
      correct(tx, owner, {
        itemId: await idOf('items', 'OPEN-1'),
        binId: here.shelf,
        lot: 'A',
        direction: 'less',
        quantity: typedQuantity('1'),
        unit: 'piece',
        reason: 'sample',
        unitCost: '',
        expiresOn: null,
      }),
    )
    expect((await refusalOf((tx) => takeBack(tx, owner, again.id))).detail).toContain('OPEN-1 has moved since')
  })
})

describe('looking', () => {
  it('what lay there on an earlier day: today’s balances less what has moved since', async () => {
    const item = await make('PAST')
    await open(item, '10', '1', { effectiveOn: '2026-09-01' })
    await inTransaction((tx) =>
      correct(tx, owner, {
        itemId: item,
        binId: here.shelf,
        lot: '',
        direction: 'less',
        quantity: typedQuantity('4'),
        unit: 'piece',
        reason: 'damage',
        unitCost: '',
        expiresOn: null,
        effectiveOn: '2026-09-20',
      }),
    )
    await inTransaction((tx) =>
      moveStock(tx, owner, {
        itemId: item,
        fromBinId: here.shelf,
        toBinId: here.rack,
        lot: '',
        quantity: typedQuantity('2'),
        unit: 'piece',
      }),
    )
    const foundOn = async (asOf: string | null): Promise<string[]> =>
      (await listBalances(StockQuery.parse({ item, asOf, sort: 'place' }))).rows.map(
        (row) => `${row.bin} ${row.onHand}`,
      )
    expect([
      await foundOn('2026-08-31'),
      await foundOn('2026-09-01'),
      await foundOn('2026-09-19'),
      await foundOn('2026-09-20'),
      await foundOn('2026-10-04'),
      await foundOn(null),
    ]).toEqual([[], ['Shelf A 10'], ['Shelf A 10'], ['Shelf A 6'], ['Shelf A 6'], ['Shelf A 4', 'Cloth rack 2']])
    expect((await listMoves(StockQuery.parse({ item, asOf: '2026-09-19' }))).total).toBe(1)
  })
  it('put-away suggests the bin where there is some of it, else where it lay last, else the first', async () => {
    const [held, gone, fresh] = [await idOf('items', 'PAST'), await make('GONE'), await make('FRESH')]
    await open(gone, '1', '1', { binId: here.rack })
    await inTransaction((tx) =>
      correct(tx, owner, {
        itemId: gone,
        binId: here.rack,
        lot: '',
        direction: 'less',
        quantity: typedQuantity('1'),
        unit: 'piece',
        reason: 'sample',
        unitCost: '',
        expiresOn: null,
      }),
    )
    expect((await suggestBins([held, gone, fresh], here.workshop)).map((s) => [s.bin, s.why])).toEqual([
      ['Shelf A', 'beside what is there'],
      ['Cloth rack', 'where it lay last'],
      [expect.any(String), 'first in the order of picking'],
    ])
  })
  it('a per cent sign in a search is a per cent sign', async () => {
    expect((await listBalances(StockQuery.parse({ search: '%' }))).total).toBe(0)
  })
  it('every balance equals the sum of its moves', async () => {
    expect(await checkLedger()).toEqual([])
  })
})
