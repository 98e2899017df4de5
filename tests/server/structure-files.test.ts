import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import * as z from 'zod'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db } from '~~/server/database/client'
import { loadDefinition } from '~~/server/services/catalogue/definitions'
import { applyImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { billsWith, previewReplace, replaceComponent } from '~~/server/services/structure/replace-component'
import { indentedFile } from '~~/server/services/structure/files'
import { explodeItem } from '~~/server/services/structure/questions'
import { compareBills } from '~~/server/services/structure/compare-bills'
import { structuresAsJson } from '~~/server/services/structure/structures-json'
import { recipesOf } from '~~/server/services/structure/recipes'
import { ExplodeQuery } from '~~/shared/structure/requests'
import { StructuresFile } from '~~/shared/structure/structures-file'
import { owner, refusalOf, withDemo } from './database'
import { bill, item, open, states, TODAY } from './structure-helpers'

withDemo()

describe('random structures', () => {
  it('come in as JSON, explode as a walk over every path says, and go out as they came (property)', async () => {
    const made = ['CASE-A4', 'CASE-A5-GREEN', 'BLOCK-A4', 'BLOCK-SKETCH', 'LINING-32', 'QUIRE-PK', 'NOTE-CARD']
    const share = fc.constantFrom('1', '2', '1/3', '0.0002', '22/7', '12')
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(6), fc.nat(6), share, fc.constantFrom('0', '4', '12.5')), {
          minLength: 1,
          maxLength: 10,
        }),
        fc.constantFrom('1', '7', '20'),
        async (edges, batch) => {
          const lines = [
            ...new Map(edges.filter(([a, b]) => a < b).map((edge) => [`${edge[0]} ${edge[1]}`, edge])).values(),
          ]
          const bills = [...new Set(lines.map(([a]) => a))].map((a) => ({
            item: made[a]!,
            revision: 50,
            from_on: TODAY,
            unit: 'piece',
            batch,
            lines: [
              ...lines
                .filter((line) => line[0] === a)
                .map(([, b, quantity, scrap]) => ({
                  component: made[b]!,
                  quantity,
                  unit: 'piece',
                  scrap_percent: scrap,
                })),
              { component: 'AWL', quantity: '1', unit: 'piece' },
            ],
          }))
          if (bills.length === 0) {
            return
          }
          const whole = [
            ...bills,
            ...made
              .filter((code) => !bills.some((bill) => bill.item === code))
              .map((code) => ({
                item: code,
                revision: 50,
                from_on: TODAY,
                unit: 'piece',
                batch: '1',
                lines: [{ component: 'AWL', quantity: '1', unit: 'piece' }],
              })),
          ]
          const preview = await open(
            'structures',
            'random.json',
            JSON.stringify({ format: 'tsumiki structures', version: 1, bills: whole }),
          )
          expect(preview.faults).toEqual([])
          await inTransaction((tx) => applyImport(tx, owner, preview.id))
          const walk = (code: string, quantity: Ratio): Ratio => {
            const own = whole.find((entry) => entry.item === code)
            if (!own) {
              return code === 'AWL' ? quantity : ZERO
            }
            return own.lines.reduce(
              (sum, line) =>
                sum.add(
                  walk(
                    line.component,
                    quantity
                      .div(ratio(own.batch))
                      .mul(ratio(line.quantity))
                      .div(
                        ratio(1).sub(ratio('scrap_percent' in line ? (line.scrap_percent as string) : '0').div(100)),
                      ),
                  ),
                ),
              ZERO,
            )
          }
          for (const { item: root } of bills) {
            const { rows: parts } = await explodeItem(await item(root), ExplodeQuery.parse({ quantity: '6' }), TODAY)
            expect(parts.find((part) => part.code === 'AWL')!.quantity).toBe(toText(walk(root, ratio(6))))
          }
          const out = await structuresAsJson(db, await Promise.all(bills.map((bill) => item(bill.item))))
          expect(
            out.bills
              .filter((bill) => bill.revision === 50)
              .map((bill) => [
                bill.item,
                bill.lines.map((line) => [line.component, toText(ratio(line.quantity)), line.scrap_percent]),
              ])
              .sort(),
          ).toEqual(
            bills
              .map((bill) => [
                bill.item,
                bill.lines.map((line) => [
                  line.component,
                  toText(ratio(line.quantity)),
                  'scrap_percent' in line ? line.scrap_percent : '0',
                ]),
              ])
              .sort(),
          )
          await inTransaction((tx) => takeBack(tx, owner, preview.id))
        },
      ),
      { numRuns: 12 },
    )
  })
})

describe('replacing a component in many bills', () => {
  it('is shown before, makes new revisions of what is in use, and can be undone', async () => {
    const [glue, bottle] = [await item('GLUE-TUB'), await item('PASTE-WHEAT')]
    const before = await billsWith(db, glue, TODAY)
    const shown = await previewReplace(owner, { itemId: glue, by: bottle, per: '1/2', bills: [] })
    expect(shown).toHaveLength(before.length)
    expect(shown.find((row) => row.code === 'CASE-A5-RED')).toMatchObject({
      before: '60',
      unit: 'g',
      after: '0.03',
      afterUnit: 'kg',
      state: 'current',
    })
    expect(await billsWith(db, glue, TODAY)).toEqual(before)
    const chosen = before.filter((row) => row.code.startsWith('CASE-A5')).map((row) => row.id)
    const done = await inTransaction((tx) =>
      replaceComponent(tx, owner, { itemId: glue, by: bottle, per: '1/2', bills: chosen, fromOn: TODAY }),
    )
    expect(done.bills).toHaveLength(3)
    expect(await states('CASE-A5-RED')).toEqual({ 1: 'past', 2: 'current' })
    expect(
      (await loadDefinition(db, 'bills', await bill('CASE-A5-RED revision 2'))).lines.find(
        (line) => line.itemId === bottle,
      ),
    ).toMatchObject({ quantity: '0.03', unit: 'kg', position: 3 })
    await inTransaction((tx) => takeBack(tx, owner, done.batchId))
    expect(await states('CASE-A5-RED')).toEqual({ 1: 'current' })
  })
  it('is refused where it would close a loop, and says in which bill', async () => {
    const refusal = await refusalOf(async (tx) =>
      replaceComponent(tx, owner, {
        itemId: await item('PAPER-100'),
        by: await item('NB-A5-RED'),
        per: '1',
        bills: [await bill('QUIRE-A5 revision 1')],
        fromOn: null,
      }),
    )
    expect(refusal.fields?.by).toContain('QUIRE-A5: This would run in a circle: ')
  })
})

describe('structures as files', () => {
  it('as JSON go out and come in again without a change, and keep to their schema', async () => {
    const file = await structuresAsJson(db)
    expect(StructuresFile.parse(file)).toEqual(file)
    expect(JSON.parse(readFileSync('docs/formats/structures.schema.json', 'utf8'))).toEqual(
      JSON.parse(JSON.stringify(z.toJSONSchema(StructuresFile, { io: 'input' }))),
    )
    const preview = await open('structures', 'all.json', JSON.stringify(file))
    expect([preview.faults, preview.made, preview.changed]).toEqual([[], 0, 0])
  })
  it('a new structure comes in as JSON, whole or not at all, and is taken back', async () => {
    const file = {
      format: 'tsumiki structures',
      version: 1,
      bills: [
        {
          item: 'NOTE-CARD',
          unit: 'piece',
          batch: 24,
          lines: [
            { component: 'CARD-KRAFT', quantity: '1/2', unit: 'sheet', substitutes: [{ substitute: 'COVER-CARD' }] },
          ],
          steps: ['Cut'],
        },
      ],
      break_downs: [{ item: 'BOARD-1', unit: 'sheet', outputs: [{ output: 'BLANK-A5', gives: '12', unit: 'piece' }] }],
    }
    const preview = await open('structures', 'new.json', JSON.stringify(file))
    expect([preview.faults, preview.made]).toEqual([[], 2])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    expect(await loadDefinition(db, 'bills', await bill('NOTE-CARD revision 1'))).toMatchObject({
      batchSize: '24',
      fromOn: null,
      lines: [{ quantity: '0.5', substitutes: [{ rank: 1, per: '1' }] }],
      steps: [{ text: 'Cut' }],
    })
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
    expect(await states('NOTE-CARD')).toEqual({})
    expect(
      (
        await open(
          'structures',
          'bad.json',
          JSON.stringify({
            ...file,
            bills: [{ ...file.bills[0], lines: [{ component: 'NOPE', quantity: '1', unit: 'sheet' }] }],
          }),
        )
      ).faults,
    ).toEqual([
      expect.objectContaining({ file: 'bill-lines', line: 1, column: 'component', detail: 'There is no item “NOPE”.' }),
    ])
  })
  it.each([
    ['{', 'The file is no JSON that can be read.'],
    ['{}', 'format: This is no file of structures.'],
    ['{"format":"tsumiki structures","version":1,"bills":[{"unit":"piece"}]}', 'bills › 0 › item: Give a code.'],
  ])('%s is refused', async (text, sentence) => {
    expect((await refusalOf(() => open('structures', 'x.json', text))).detail).toBe(sentence)
  })
  it('indented by level: what stands deeper is below what stands above it; each bill is given whole, the same twice is one', async () => {
    const text =
      'level,item,quantity,unit,batch\n0,NB-A5-NAVY,,,10\n1,SPINE-A5,10,piece,\n1,CASE-A5-NAVY,10,piece,\n..2,SPINE-A5,1/2,piece,\n0,GB-A5,,,\n1,CASE-A5-NAVY,5,piece,\n..2,SPINE-A5,1/2,piece,\n'
    const preview = await open('indented-bills', 'levels.csv', text)
    expect([preview.faults, preview.made]).toEqual([[], 3])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    const spine = await item('SPINE-A5')
    expect(await loadDefinition(db, 'bills', await bill('CASE-A5-NAVY revision 2'))).toMatchObject({
      fromOn: null,
      batchSize: '1',
      batchUnit: 'piece',
      lines: [{ itemId: spine, quantity: '0.5', position: 1 }],
    })
    expect((await loadDefinition(db, 'bills', await bill('NB-A5-NAVY revision 2'))).batchSize).toBe('10')
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
  })
  it('what goes out by levels comes in again as the same', async () => {
    const { content } = await indentedFile(db, await item('ALBUM-32'), TODAY, 'csv')
    expect(String(content)).toContain(
      '1,PAPER-120,"Album paper 120 g, 70 × 100 cm",0.25,ream,,,per batch,0,0,no,"cut to 32 cm, the strip is kept"',
    )
    const preview = await open('indented-bills', 'album.csv', String(content))
    expect([preview.faults, preview.made]).toEqual([[], 2])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    const difference = await compareBills(
      await bill('ALBUM-32 revision 1'),
      await bill('ALBUM-32 revision 2'),
      'current',
      TODAY,
    )
    expect(difference.lines.filter((line) => line.kind !== 'same').map((line) => [line.code, line.fields])).toEqual([
      ['CLOTH-LINEN', ['substitutes']],
    ])
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
  })
  it('a file without levels below the first is told', async () => {
    expect(
      (await open('indented-bills', 'x.csv', 'level,item,quantity,unit\n0,TRIO,,\n')).faults.map(
        (fault) => fault.detail,
      ),
    ).toEqual(['No item of the file has components: level 1 and deeper.'])
  })
  it.each([
    ['1,AWL,1,piece', 'level', 'The first line is level 0: what is made.'],
    ['0,NB-A5-NAVY,,\n2,AWL,1,piece', 'level', 'Level 2 stands below level 0; a level is missing between.'],
    [
      '0,NB-A5-NAVY,,\nx,AWL,1,piece',
      'level',
      '“x” is no level. Write 0 for what is made, 1 for its components, and so on.',
    ],
    ['0,NB-A5-NAVY,,\n1,NOPE,1,piece', 'item', 'There is no item “NOPE”.'],
    ['0,NB-A5-NAVY,,\n1,AWL,1,furlong', 'unit', 'There is no unit “furlong”. Add it to the units first.'],
    ['0,NB-A5-NAVY,,\n1,AWL,,piece', 'quantity', 'The quantity is missing.'],
    [
      '0,TRIO,,\n1,NB-A5-NAVY,1,piece\n2,AWL,1,piece\n0,NB-A5-NAVY,,\n1,AWL,2,piece',
      'item',
      'NB-A5-NAVY is written out differently in line 4 and below. An item has one bill.',
    ],
  ])('a fault of levels: %s', async (lines, column, detail) => {
    const { faults } = await open('indented-bills', 'levels.csv', `level,item,quantity,unit\n${lines}\n`)
    expect(faults.map((fault) => [fault.column, fault.detail])).toContainEqual([column, detail])
  })
  it('the small item says from which bulk it comes', async () => {
    expect(
      (await recipesOf(db, await item('BLANK-A5'))).comesFrom.map(
        (recipe) => `${recipe.code} ${recipe.take} ${recipe.unit} ${recipe.gives}`,
      ),
    ).toEqual(['BOARD-2 1 sheet 16', 'BOARD-3 1 sheet 16'])
    expect(
      (await recipesOf(db, await item('BOARD-SPINE'))).gives.map((recipe) => [recipe.onArrival, recipe.outputs.length]),
    ).toEqual([[true, 2]])
  })
})
