import fc from 'fast-check'
import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { changesOf, undoChange } from '~~/server/services/catalogue/changes'
import { isSame, loadDefinition, saveAll, saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { find } from '~~/server/services/catalogue/find'
import { applyImport, openImport, takeBack } from '~~/server/services/catalogue/tables/batches'
import { exportCatalogue } from '~~/server/services/catalogue/tables/write-file'
import { inTransaction } from '~~/server/database/transactions'
import { ItemEdit } from '~~/shared/catalogue/item'
import { idOf, owner, withDemo } from './database'

withDemo()

/** Some field of an item, changed somehow: each edit is one that a person could make. */
const anyEdit = fc.oneof(
  fc.record({ note: fc.constantFrom('', 'a', 'b', 'Ask first') }),
  fc.record({ name2: fc.constantFrom('', 'Ahle', 'Poinçon') }),
  fc.record({ safetyStock: fc.nat(9).map(String) }),
  fc.record({ maximumStock: fc.constantFrom('', '20', '50') }),
  fc.record({ price: fc.constantFrom('', '7.50', '8') }),
  fc.record({
    relations: fc.constantFrom(
      [],
      [{ unit: 'box', per: '10', ofUnit: 'piece' }],
      [
        { unit: 'box', per: '12', ofUnit: 'piece' },
        { unit: 'carton', per: '8', ofUnit: 'box' },
      ],
    ),
  }),
  fc.record({ codes: fc.constantFrom([], [{ code: 'U-1' }], [{ code: 'U-2', kind: 'barcode', unit: 'piece' }]) }),
  fc.record({ marks: fc.constantFrom([], [{ fromOn: '2026-11-01', untilOn: '2026-12-31', safetyStock: '9' }]) }),
  fc.record({ links: fc.constantFrom([], [{ title: 'x', url: 'https://x.example/' }]) }),
)

describe('any edits, undone from the last to the first, leave what was there', () => {
  it('(property, against a copy kept aside)', async () => {
    const id = await idOf('items', 'SQUARE')
    await fc.assert(
      fc.asyncProperty(fc.array(anyEdit, { minLength: 1, maxLength: 6 }), async (edits) => {
        const before = await loadDefinition(db, 'items', id)
        const newest = async () =>
          (await changesOf(db, 'items', id, true))
            .filter((change) => !change.undone && !change.undoes)
            .map((change) => change.id)
        const there = new Set(await newest())
        for (const edit of edits) {
          const { version, ...now } = await loadDefinition(db, 'items', id)
          const read = ItemEdit.safeParse({ ...now, ...edit })
          if (read.success) {
            await inTransaction((tx) => saveOne(tx, owner, shapeOf('items'), { id, version, definition: read.data }))
          }
        }
        for (const change of (await newest()).filter((entry) => !there.has(entry))) {
          await inTransaction((tx) => undoChange(tx, owner, change))
        }
        return isSame(await loadDefinition(db, 'items', id), before)
      }),
      { numRuns: 25 },
    )
  })
})

describe('a whole catalogue, changed by file and taken back', () => {
  it('is what it was, table by table', async () => {
    const before = await exportCatalogue('items', 'csv')
    const changed = String(before)
      .split('\n')
      .map((line, index) => (index === 0 || line === '' ? line : line.replace(/,[^,]*$/, ',Changed by file')))
      .join('\n')
    const preview = await openImport(owner, {
      table: 'items',
      fileName: 'all.csv',
      content: Buffer.from(changed).toString('base64'),
    })
    expect([preview.faults, preview.made, preview.changed, preview.same]).toEqual([[], 0, 96, 0])
    await inTransaction((tx) => applyImport(tx, owner, preview.id))
    expect(
      (await rows<{ n: number }>(db, sql`select count(*)::int as n from items where note = 'Changed by file'`))[0]!.n,
    ).toBe(96)
    await inTransaction((tx) => takeBack(tx, owner, preview.id))
    expect(await exportCatalogue('items', 'csv')).toBe(before)
  })
})

describe('what is found follows what is written', () => {
  it('a new name, a new code, a retirement, by whatever way they come', async () => {
    const id = await idOf('items', 'GLASSINE')
    const edit = async (fields: object) => {
      const { version, ...now } = await loadDefinition(db, 'items', id)
      await inTransaction((tx) =>
        saveOne(tx, owner, shapeOf('items'), { id, version, definition: ItemEdit.parse({ ...now, ...fields }) }),
      )
    }
    await edit({ name: 'Pergamyn, forty grams', codes: [{ code: 'PGM-40' }] })
    expect((await find('pergamin'))[0]).toMatchObject({ code: 'GLASSINE' })
    expect((await find('PGM-40'))[0]).toMatchObject({ code: 'GLASSINE', by: 'PGM-40' })
    expect(
      (await find('glassine 40 g')).some((thing) => thing.code === 'GLASSINE' && thing.name.includes('40 g')),
    ).toBe(false)
    await edit({ status: 'retired' })
    expect((await find('pergamyn'))[0]!.name).toContain('(retired)')
    await rows(db, sql`update items set name = 'Renamed past the program' where id = ${id}`)
    expect((await find('renamed past'))[0]).toMatchObject({ code: 'GLASSINE' })
  })
  it('letters that a search could take for a pattern are letters', async () => {
    for (const text of ['%', '%%%', '___', 'A%L']) {
      expect((await find(text)).filter((thing) => thing.kind === 'item' && thing.code === 'AWL')).toEqual([])
    }
  })
})

describe('two people at once', () => {
  it('who saves on an older version is told; other items go on', async () => {
    const [knife, blade] = [
      await loadDefinition(db, 'items', await idOf('items', 'KNIFE')),
      await loadDefinition(db, 'items', await idOf('items', 'BLADE')),
    ]
    const save = ({ id, version, ...now }: typeof knife, note: string) =>
      inTransaction((tx) => saveOne(tx, owner, shapeOf('items'), { id, version, definition: { ...now, note } }))
    const answers = await Promise.allSettled([save(knife, 'one'), save(knife, 'two'), save(blade, 'three')])
    expect(answers.map((answer) => answer.status).sort()).toEqual(['fulfilled', 'fulfilled', 'rejected'])
    expect(answers[2]!.status).toBe('fulfilled')
    expect((await loadDefinition(db, 'items', knife.id)).version).toBe(knife.version + 1)
  })
  it('the same new code is taken once', async () => {
    const make = () =>
      inTransaction((tx) =>
        saveAll(tx, owner, shapeOf('price-lists'), [
          { id: null, version: null, definition: { code: 'RACE', name: 'Race', note: '', retired: false } },
        ]),
      )
    const answers = await Promise.allSettled([make(), make(), make()])
    expect(answers.filter((answer) => answer.status === 'fulfilled' && answer.value.ok)).toHaveLength(1)
    for (const answer of answers) {
      if (answer.status === 'rejected') {
        expect(answer.reason).toMatchObject({ code: 'taken' })
      }
    }
    expect(await rows(db, sql`select 1 from price_lists where code = 'RACE'`)).toHaveLength(1)
  })
})
