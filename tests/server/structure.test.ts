import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows, type Tx } from '~~/server/database/client'
import { loadDefinition, remove, saveOne, schemaOf, shapeOf } from '~~/server/services/catalogue/definitions'
import { undoChange } from '~~/server/services/catalogue/changes'
import { takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { billDocument } from '~~/server/services/structure/bill-document'
import { listBills, revise, useBill, useDrafts } from '~~/server/services/structure/bills'
import {
  buildableFile,
  comparisonFile,
  explosionFile,
  factsFile,
  whereUsedFile,
} from '~~/server/services/structure/files'
import { lookUpItems } from '~~/server/services/structure/look-up'
import { buildableNow, explodeItem, leadAndMass, whereUsedOf } from '~~/server/services/structure/questions'
import { compareBills } from '~~/server/services/structure/compare-bills'
import { recipesOf } from '~~/server/services/structure/recipes'
import { takeSnapshot } from '~~/server/services/planning/snapshot'
import { correct } from '~~/server/services/stock/correct'
import { createBreakDown, loadBreakDown } from '~~/server/services/workshop/break-downs'
import { completeBreakDown } from '~~/server/services/workshop/complete-break-down'
import { cancelBuild, createBuild } from '~~/server/services/workshop/builds'
import { loadBuild } from '~~/server/services/workshop/read-build'
import type { Definition } from '~~/shared/catalogue/definitions'
import { BillList, ExplodeQuery } from '~~/shared/structure/requests'
import { idOf, onHand, owner, refusalOf, valueOf, withDemo } from './database'
import { make } from './stock-helpers'
import { bill, item, open, refused, save, states, TODAY } from './structure-helpers'

withDemo()

describe('revisions', () => {
  it('are drafts, current from a day, to come, or past', async () => {
    expect([await states('CASE-A5-GREEN'), await states('NB-POCKET'), await states('GB-A4')]).toEqual([
      { 1: 'past', 2: 'current' },
      { 1: 'current', 2: 'to come' },
      { 1: 'current', 2: 'draft' },
    ])
  })
  it('a new one is a copy, is edited while it is a draft, and then used from a day on', async () => {
    const { id } = await inTransaction(async (tx) =>
      revise(tx, owner, await item('NB-A5-GREEN'), await bill('NB-A5-GREEN revision 1')),
    )
    const draft = await loadDefinition(db, 'bills', id)
    expect([draft.name, draft.fromOn, draft.lines.length]).toEqual(['NB-A5-GREEN revision 2', null, 4])
    await save(id, { lines: draft.lines.map((line) => (line.unit === 'g' ? { ...line, quantity: '22' } : line)) })
    await save(id, { fromOn: '2026-10-12' })
    expect(await states('NB-A5-GREEN')).toEqual({ 1: 'current', 2: 'to come' })
    await save(id, { fromOn: TODAY })
    expect(await states('NB-A5-GREEN')).toEqual({ 1: 'past', 2: 'current' })
    expect((await refused(id, { batchSize: '12' }))?.lines).toContain('Revision 2 is in use from 2026-10-05 on')
    await save(id, { note: 'A note may come later' })
    // Taken back by hand it is a draft again, as nothing was built from it.
    await save(id, { fromOn: null })
    expect(await states('NB-A5-GREEN')).toEqual({ 1: 'current', 2: 'draft' })
    await inTransaction((tx) => remove(tx, owner, shapeOf('bills'), [id]))
  })
  it('a build remembers the one that it was made from, and a later start takes a later one', async () => {
    const pocket = await item('NB-POCKET')
    const build = (releaseOn: string) =>
      inTransaction((tx) =>
        createBuild(tx, owner, {
          itemId: pocket,
          quantity: typedQuantity('20'),
          unit: 'piece',
          dueOn: '2026-11-20',
          releaseOn,
        }),
      )
    const [now, later] = [await build(TODAY), await build('2026-11-09')]
    const thread = async (id: number) => {
      const found = await loadBuild(id, TODAY)
      return [found.revision, found.components.find((component) => component.code === 'THREAD')!.need]
    }
    // 8 and 10 m, 4 % scrap: 8 ÷ 0.96 = 8.3333, up to a step of 0.01
    expect([await thread(now.id), await thread(later.id)]).toEqual([
      [1, '8.34'],
      [2, '10.42'],
    ])
    expect((await refused(await bill('NB-POCKET revision 2'), { fromOn: null }))?.fromOn).toContain(
      'has been built from',
    )
    for (const entry of [now, later]) {
      await inTransaction((tx) => cancelBuild(tx, owner, entry.id, 1))
    }
  })
  it.each<[string, Partial<Definition<'bills'>>, string, string]>([
    ['without components', { lines: [] }, 'fromOn', 'It has no active component yet. Add at least one.'],
    [
      'with a retired component',
      { lines: [] },
      'lines.0.itemId',
      'CLOTH-OCHRE Bookcloth ochre, 1.32 m wide is retired. Take another before this revision is used.',
    ],
  ])('cannot be used %s', async (what, change, field, sentence) => {
    const { id } = await inTransaction(async (tx) => revise(tx, owner, await item('NB-A5-RED'), null))
    const lines = what.includes('retired')
      ? [
          {
            ...(await loadDefinition(db, 'bills', await bill('NB-A5-RED revision 1'))).lines[0]!,
            itemId: await item('CLOTH-OCHRE'),
            unit: 'm',
          },
        ]
      : change.lines!
    if (lines.length > 0) {
      await save(id, { lines })
    }
    expect((await refused(id, { lines, fromOn: TODAY }))?.[field]).toBe(sentence)
    await inTransaction((tx) => remove(tx, owner, shapeOf('bills'), [id]))
  })
  it('a bought item can have a draft, but is not built from it', async () => {
    const { id } = await inTransaction(async (tx) => revise(tx, owner, await item('AWL'), null))
    const [line] = (await loadDefinition(db, 'bills', await bill('TRIO revision 1'))).lines
    await save(id, { lines: [line!] })
    expect((await refused(id, { lines: [line!], fromOn: TODAY }))?.fromOn).toBe(
      'AWL is bought. Say on the item that it is made or a kit, then use its bill.',
    )
    await inTransaction((tx) => remove(tx, owner, shapeOf('bills'), [id]))
  })
  it('a unit that leads nowhere is told beside its line', async () => {
    const draft = await bill('GB-A4 revision 2')
    const { lines } = await loadDefinition(db, 'bills', draft)
    expect(
      (await refused(draft, { lines: lines.map((line, index) => (index === 0 ? { ...line, unit: 'L' } : line)) }))?.[
        'lines.0.unit'
      ],
    ).toBe('BLOCK-A4: Nothing says how litre relates to piece. Add a pack or a bridge between them on the item.')
  })
  it('their names follow the code of the item', async () => {
    await db.execute(sql`update items set code = 'GB-A5-X' where code = 'GB-A5'`)
    expect(await bill('GB-A5-X revision 1')).toBeGreaterThan(0)
    await db.execute(sql`update items set code = 'GB-A5' where code = 'GB-A5-X'`)
  })
  it('many drafts are used at once, all or none, and taken back', async () => {
    const made = await Promise.all(
      ['SKETCH-A5', 'GB-A5'].map(
        async (code) =>
          (await inTransaction(async (tx) => revise(tx, owner, await item(code), await bill(`${code} revision 1`)))).id,
      ),
    )
    const { bills, batchId } = await inTransaction((tx) => useDrafts(tx, owner, made, TODAY))
    expect([bills, await states('SKETCH-A5'), await states('GB-A5')]).toEqual([
      2,
      { 1: 'past', 2: 'current' },
      { 1: 'past', 2: 'current' },
    ])
    await inTransaction((tx) => takeBack(tx, owner, batchId))
    expect(await states('GB-A5')).toEqual({ 1: 'current', 2: 'draft' })
    const empty = (await inTransaction(async (tx) => revise(tx, owner, await item('NOTE-CARD'), null))).id
    expect((await refusalOf((tx) => useDrafts(tx, owner, [...made, empty], TODAY))).fields?.bills).toBe(
      'NOTE-CARD revision 1: It has no active component yet. Add at least one.',
    )
    expect(await states('SKETCH-A5')).toEqual({ 1: 'current', 2: 'draft' })
    await inTransaction((tx) => remove(tx, owner, shapeOf('bills'), [...made, empty]))
  })
  it('every change is kept and can be taken back', async () => {
    const id = await bill('GB-A4 revision 2')
    await save(id, { workMinutes: '95' })
    const [change] = await rows<{ id: number }>(
      db,
      sql`
        select id
        from changes
        where entity = 'bill of materials' and entity_id = ${String(id)}
        order by id desc
        limit 1`,
    )
    await inTransaction((tx) => undoChange(tx, owner, change!.id))
    expect((await loadDefinition(db, 'bills', id)).workMinutes).toBe('75')
  })
})

describe('questions', () => {
  const explode = async (code: string, query: object) => explodeItem(await item(code), ExplodeQuery.parse(query), TODAY)
  it('cost at the current, the standard and the best supplier price: 0.46 m of red cloth at 80.26 ÷ 6.4 m, at 12.60, and as it is bought', async () => {
    const cloth = async (basis: string) =>
      (await explode('CASE-A5-RED', { quantity: '10', basis })).rows.find((row) => row.code === 'CLOTH-RED')!.cost.total
    expect([await cloth('current'), await cloth('standard')]).toEqual(['57.69', '57.96'])
    const [term] = await rows<{ price: string }>(
      db,
      sql`select min(price)::text as price from supplier_terms where item_id = ${await item('CLOTH-RED')}`,
    )
    // The terms are a price for one m²; a metre is 1.32 m².
    expect(Number(await cloth('best supplier price'))).toBeCloseTo(Number(term!.price) * 1.32 * 4.6, 1)
  })
  it('material, work and other add up, level by level', async () => {
    const answer = await explode('ALBUM-32', { quantity: '5' })
    const { material, work, other: otherCost, total } = answer.cost
    expect(Math.round((Number(material) + Number(work) + Number(otherCost)) * 100)).toBe(
      Math.round(Number(total) * 100),
    )
    // 40 min a batch of 5 and 18 min each, of which 98 % come out good, and 25 min for 10 linings; 96 % of it stays
    // with the album.
    const minutes = (40 / 5 + 18) / 0.98
    expect(Number(work)).toBeCloseTo(0.96 * 5 * ((minutes / 60) * 24 + ((2.5 / 60) * 22) / 0.98), 1)
    expect(Number(otherCost)).toBeCloseTo((0.96 * 6.5) / 0.98, 1)
  })
  it('written out has each part beneath what it goes into, one level only the first', async () => {
    expect(
      (await explode('NB-A5-RED', { how: 'indented' })).rows.map((row) => `${row.level} ${row.code}`).slice(0, 4),
    ).toEqual(['1 BLOCK-A5', '2 QUIRE-A5', '3 PAPER-100', '2 THREAD'])
    expect((await explode('NB-A5-RED', { how: 'one level' })).rows.map((row) => row.code)).toEqual([
      'BLOCK-A5',
      'CASE-A5-RED',
      'RIBBON-RED',
      'GLUE-TUB',
    ])
  })
  it('another revision can be asked about before it is used', async () => {
    const answer = await explode('NB-POCKET', { quantity: '20', revision: String(await bill('NB-POCKET revision 2')) })
    expect(answer.rows.find((row) => row.code === 'THREAD')!.quantity).toBe('125/12')
  })
  it('what can be made now: red notebooks by their cloth, glue that is not there by the drum', async () => {
    const red = await buildableNow(
      [{ itemId: await item('CASE-A5-RED'), quantity: typedQuantity('1'), unit: '' }],
      TODAY,
    )
    // 6.4 m ÷ 0.46 = 13; 90 blanks ÷ 2 = 45; glue 0.05 kg ÷ 0.006 = 8
    expect([red.sets, red.next.map((use) => `${use.code} ${use.missing}`)]).toEqual(['8', ['GLUE-DRUM 1']])
    const two = await buildableNow(
      [
        { itemId: await item('TRIO'), quantity: typedQuantity('2'), unit: '' },
        { itemId: await item('POCKET-10'), quantity: typedQuantity('1'), unit: '' },
      ],
      TODAY,
    )
    // A set takes 4 + 10 = 14 of 96 pocket books, 2 of 9 boxes, 2 of 14 red notebooks: boxes give 4
    expect([two.sets, two.next.map((use) => use.code)]).toEqual(['4', ['BOX-GIFT']])
    expect(
      (
        await refusalOf(async () =>
          buildableNow([{ itemId: await item('AWL'), quantity: typedQuantity('1'), unit: '' }], TODAY),
        )
      ).detail,
    ).toContain('AWL Awl has no bill in use')
  })
  it('the longest way, and the mass where weights are known', async () => {
    const { lead, mass } = await leadAndMass(await item('CASE-A5-RED'), TODAY)
    expect(lead.map((step) => step.code).at(0)).toBe('CASE-A5-RED')
    expect(lead.reduce((sum, step) => sum + step.leadDays, 0)).toBe(lead.at(-1)!.begins)
    expect([mass.known, mass.unknown]).toEqual(['0.006', ['BLANK-A5', 'CLOTH-RED']])
  })
  it('two revisions side by side, with what it does to the cost', async () => {
    const answer = await compareBills(
      await bill('CASE-A5-GREEN revision 1'),
      await bill('CASE-A5-GREEN revision 2'),
      'standard',
      TODAY,
    )
    expect(
      answer.lines
        .filter((line) => line.kind !== 'same')
        .map((line) => [line.code, line.kind, line.before!.quantity, line.after!.quantity, line.fields]),
    ).toEqual([['CLOTH-GREEN', 'changed', '490', '460', ['quantity', 'substitutes']]])
    // 0.03 m of green cloth less
    expect(Number(answer.difference)).toBeLessThan(0)
    expect(
      (
        await refusalOf(async () =>
          compareBills(await bill('CASE-A5-GREEN revision 1'), await bill('TRIO revision 1'), 'current', TODAY),
        )
      ).detail,
    ).toBe('Choose two revisions of the same item.')
  })
  it('answers are files too', async () => {
    expect(String(await explosionFile(await explode('TRIO', { how: 'one level' }), 'csv'))).toContain(
      '1,BOX-GIFT,Gift box for three,1,pc,9,',
    )
    expect(String(await whereUsedFile(await whereUsedOf(await item('CLOTH-NAVY'), TODAY), 'csv'))).toContain(
      '2,NB-A5-NAVY,Notebook A5 navy,0.46,m,pc',
    )
    expect(
      String(
        await buildableFile(
          await buildableNow([{ itemId: await item('TRIO'), quantity: typedQuantity('1'), unit: '' }], TODAY),
          'csv',
        ),
      ),
    ).toMatch(/can be made,TRIO,,9,[\s\S]*next lacks,BOX-GIFT/)
    expect(
      String(
        await comparisonFile(
          await compareBills(
            await bill('CASE-A5-GREEN revision 1'),
            await bill('CASE-A5-GREEN revision 2'),
            'current',
            TODAY,
          ),
          'csv',
        ),
      ),
    ).toContain('changed,CLOTH-GREEN,"Bookcloth moss green, 1.32 m wide",490 cm,460 cm')
    expect(String(await factsFile(await leadAndMass(await item('CASE-A5-RED'), TODAY), 'csv'))).toContain(
      'mass,,,,,,0.006',
    )
    const { name, bytes } = await billDocument(await bill('ALBUM-32 revision 1'), TODAY)
    expect([name, bytes.subarray(0, 4).toString()]).toEqual(['ALBUM-32 revision 1', '%PDF'])
  })
  it('lists what has a bill, a draft, or none', async () => {
    const codes = async (query: object) =>
      (await listBills(db, BillList.parse(query), TODAY)).rows.map((row) => row.code)
    expect([await codes({ state: 'draft' }), await codes({ state: 'none' }), await codes({ search: 'drum' })]).toEqual([
      ['GB-A4'],
      ['NOTE-CARD'],
      ['GLUE-DRUM'],
    ])
  })
  it('items are looked up by code, barcode, supplier’s code and name', async () => {
    expect(
      (await lookUpItems(db, ['awl', '9520000000134', 'T100-6490', 'Bone folder', 'nothing']))
        .map((item) => `${item.word} ${item.code}`)
        .sort(),
    ).toEqual(['9520000000134 AWL', 'awl AWL', 'bone folder BONE', 't100-6490 PAPER-100'])
  })
})

describe('what rests on revisions', () => {
  it('a plan takes the revision of its first day', async () => {
    const thread = async (start: string) => {
      const { nodes } = await takeSnapshot(db, {
        start,
        end: '2026-12-31',
        demandRule: 'orders only',
        forecastIds: [],
        forecastFalls: 'first day',
      })
      const source = nodes.find((node) => node.id === String(ids.pocket))!.source
      const line =
        source.kind === 'make'
          ? source.components.find((component) => component.node === String(ids.thread))
          : undefined
      return line && `${Number(line.numerator) / Number(line.denominator)}`
    }
    const ids = { pocket: await item('NB-POCKET'), thread: await item('THREAD') }
    // Steps of 0.01 m for one book: 8 ÷ 20 ÷ 0.96 = 0.41667 m, and 10 ÷ 20 ÷ 0.96 = 0.52083 m
    const [now, later] = [Number(await thread(TODAY)), Number(await thread('2026-11-09'))]
    expect([now.toFixed(3), later.toFixed(3)]).toEqual(['41.667', '52.083'])
  })
  it('a break-down with two outputs shares its value by what is stated: 5.00 as 3 to 2', async () => {
    const [sheet, bin] = [await item('BOARD-SPINE'), await idOf('places', 'SHELF-A')]
    await inTransaction((tx) =>
      correct(tx, owner, {
        itemId: sheet,
        binId: bin,
        lot: '',
        direction: 'more',
        quantity: typedQuantity('1'),
        unit: 'sheet',
        reason: 'opening stock',
        unitCost: '5',
        expiresOn: null,
      }),
    )
    const { id } = await inTransaction((tx) => createBreakDown(tx, owner, { itemId: sheet, times: '1', dueOn: TODAY }))
    await inTransaction((tx) => completeBreakDown(tx, owner, id, { version: 1, binId: bin }))
    expect([
      await onHand('SPINE-A5'),
      await valueOf('SPINE-A5'),
      await onHand('SPINE-32'),
      await valueOf('SPINE-32'),
    ]).toEqual(['40', '300', '12', '200'])
  })
  it('another way of breaking down is taken where it is asked for', async () => {
    const board = await item('BOARD-3')
    const recipes = (await recipesOf(db, board)).gives
    const { id } = await inTransaction((tx) =>
      createBreakDown(tx, owner, { itemId: board, recipeId: recipes[1]!.id, times: '2', dueOn: TODAY }),
    )
    expect((await loadBreakDown(id, TODAY)).outputs.map((output) => [output.code, output.quantity])).toEqual([
      ['BLANK-A5', '32'],
    ])
  })
  it('a file does not change what is in use', async () => {
    const preview = await open(
      'bill-lines',
      'lines.csv',
      'item,revision,component,quantity,unit\nTRIO,1,TISSUE,3,sheet\n',
    )
    expect(preview.faults.map((fault) => [fault.line, fault.detail])).toEqual([
      [2, 'Revision 1 is in use from 2026-01-05 on, so it stays as it is. Revise it, and change the new draft.'],
    ])
  })
  it('a draft that somebody else has changed is not overwritten', async () => {
    const draft = await bill('GB-A4 revision 2')
    const { id, version, ...definition } = await loadDefinition(db, 'bills', draft)
    const edit = (note: string) => (tx: Tx) =>
      saveOne(tx, owner, shapeOf('bills'), { id, version, definition: { ...definition, note } })
    await inTransaction(edit('first'))
    expect((await refusalOf(edit('second'))).detail).toContain('Ines Hartwell changed note')
  })
  it('one act takes a draft into use and makes of what was bought what is made here', async () => {
    const tin = await make('TIN-BOUGHT')
    const { id } = await inTransaction((tx) => revise(tx, owner, tin, null))
    const { version } = await loadDefinition(db, 'bills', id)
    const use = { version, fromOn: '2026-10-06', becomes: 'kit' as const }
    // An empty bill is refused, and then the item is not changed either.
    const refusal = await refusalOf((tx) => useBill(tx, owner, id, use))
    expect([refusal.code, (await loadDefinition(db, 'items', tin)).source]).toEqual(['invalid-input', 'bought'])
    const { id: own, version: seen, ...draft } = await loadDefinition(db, 'bills', id)
    const lines = [{ itemId: await item('TISSUE'), quantity: '1', unit: 'sheet' }]
    await inTransaction((tx) =>
      saveOne(tx, owner, shapeOf('bills'), {
        id: own,
        version: seen,
        definition: schemaOf('bills').parse({ ...draft, lines }),
      }),
    )
    await inTransaction((tx) => useBill(tx, owner, id, { ...use, version: seen + 1 }))
    expect((await loadDefinition(db, 'bills', id)).fromOn).toBe('2026-10-06')
    expect(await loadDefinition(db, 'items', tin)).toMatchObject({ source: 'kit' })
  })
  it('what is used in a bill cannot be taken away, nor a unit that its lines speak in', async () => {
    expect(
      (await refusalOf(async (tx) => remove(tx, owner, shapeOf('items'), [await item('END-PASTE')]))).detail,
    ).toContain('END-PASTE is used by bills of materials')
    const paste = await loadDefinition(db, 'items', await item('PASTE-WHEAT'))
    expect(paste.stockUnit).toBe('kg')
    const linen = await loadDefinition(db, 'items', await item('CLOTH-LINEN'))
    const { id, version, ...bare } = linen
    expect(
      (
        await refusalOf((tx) =>
          saveOne(tx, owner, shapeOf('items'), { id, version, definition: { ...bare, relations: [] } }),
        )
      ).fields,
    ).toMatchObject({ relations: expect.stringContaining('The bill of ALBUM-32') as string })
  })
})
