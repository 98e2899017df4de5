import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { db, rows, type Tx } from '~~/server/database/client'
import { changesOf, undoChange } from '~~/server/services/catalogue/changes'
import {
  freeCode,
  loadDefinition,
  remove,
  saveAll,
  saveOne,
  schemaOf,
  shapeOf,
} from '~~/server/services/catalogue/definitions'
import { byScan, find } from '~~/server/services/catalogue/find'
import { inTransaction } from '~~/server/database/transactions'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import type { DefinitionKind } from '~~/shared/catalogue/words'
import { setMany } from '~~/server/services/catalogue/set-many'
import { idOf, owner, refusalOf, withDemo } from './database'
import { make as makeItem } from './stock-helpers'

withDemo()

const make =
  <K extends DefinitionKind>(kind: K, fields: object) =>
  (tx: Tx) =>
    saveOne(tx, owner, shapeOf(kind), {
      id: null,
      version: null,
      definition: schemaOf(kind).parse(fields) as Definition<K>,
    })
const load = <K extends DefinitionKind>(kind: K, id: number): Promise<Stored<K>> => loadDefinition(db, kind, id)
/** Saves with some fields changed, as a page would: the whole definition, and the version that it saw. */
const change =
  <K extends DefinitionKind>(kind: K, id: number, fields: object) =>
  async (tx: Tx) => {
    const { version, ...now } = await loadDefinition(tx, kind, id)
    return saveOne(tx, owner, shapeOf(kind), {
      id,
      version,
      definition: schemaOf(kind).parse({ ...now, ...fields }) as Definition<K>,
    })
  }
const item = (code: string, fields: object = {}) => ({
  code,
  name: `Made-up ${code}`,
  stockUnit: 'piece',
  buyingUnit: 'piece',
  sellingUnit: 'piece',
  finestStep: '1',
  ...fields,
})
const lastChange = async (kind: DefinitionKind, id: number) => (await changesOf(db, kind, id, true))[0]!

describe('groups hand down', () => {
  it('along the tree, to items that have no word of their own; the nearest group goes first', async () => {
    const top = await inTransaction(
      make('groups', {
        code: 'DYES',
        name: 'Dyes',
        numberPattern: 'DYE-###',
        defaults: { tracking: 'lot', shelfLifeDays: 300, leadDays: 4 },
      }),
    )
    const below = await inTransaction(
      make('groups', { code: 'DYES-DARK', name: 'Dark dyes', parentId: top.id, defaults: { leadDays: 9 } }),
    )
    const black = await inTransaction(
      make(
        'items',
        item('BLACK', { groupId: below.id, inherited: ['tracking', 'shelfLifeDays', 'leadDays', 'finestStep'] }),
      ),
    )
    expect(await load('items', black.id)).toMatchObject({
      tracking: 'lot',
      shelfLifeDays: 300,
      leadDays: 9,
      inherited: ['tracking', 'shelfLifeDays', 'leadDays'],
    })
    await inTransaction(change('items', black.id, { shelfLifeDays: 30, inherited: ['tracking', 'leadDays'] }))
    await inTransaction(change('groups', top.id, { defaults: { tracking: 'lot', shelfLifeDays: 100, leadDays: 1 } }))
    await inTransaction(change('groups', below.id, { defaults: {} }))
    expect(await load('items', black.id)).toMatchObject({ tracking: 'lot', shelfLifeDays: 30, leadDays: 1 })
    expect([await freeCode(db, below.id), await freeCode(db, await idOf('item_groups', 'GOODS'))]).toEqual([
      'DYE-001',
      null,
    ])
  })
  it('nothing that an item of theirs cannot take', async () => {
    const glue = await idOf('item_groups', 'ADHESIVES')
    const refusal = await refusalOf(change('groups', glue, { defaults: { tracking: 'none' } }))
    expect(refusal.fields).toEqual({
      'defaults.tracking':
        '5 items of the group cannot take this: GLUE-TUB, GLUE-BOTTLE, PASTE-WHEAT, METHYL, VARNISH. Stock of this item has moved, so its tracking stays as it is. Give them a value of their own first.',
    })
    expect((await load('groups', glue)).defaults).toEqual({ tracking: 'lot', shelfLifeDays: 540, countDays: 60 })
  })
  it('what moved stock stands on stays the item’s own where it comes into another group', async () => {
    const bone = await idOf('items', 'BONE')
    expect((await load('items', bone)).inherited).toContain('stockUnit')
    await inTransaction(change('items', bone, { groupId: await idOf('item_groups', 'PAPER') }))
    const moved = await load('items', bone)
    expect([moved.stockUnit, moved.inherited.includes('stockUnit')]).toEqual(['piece', false])
    await inTransaction(async (tx) => undoChange(tx, owner, (await lastChange('items', bone)).id))
    expect((await load('items', bone)).inherited).toContain('stockUnit')
  })
  it('no group lies within itself', async () => {
    const [dyes, dark] = [await idOf('item_groups', 'DYES'), await idOf('item_groups', 'DYES-DARK')]
    expect((await refusalOf(change('groups', dyes, { parentId: dark }))).fields?.parentId).toBe(
      'A group cannot lie within itself. Choose a group that is not below it.',
    )
  })
})

describe('units', () => {
  it('of one’s own convert like the others', async () => {
    const hand = await inTransaction(
      make('units', {
        code: 'hand',
        name: 'hand',
        plural: 'hands',
        symbol: 'hh',
        dimension: 'length',
        per: '0.1016',
        decimals: 1,
      }),
    )
    expect(await load('units', hand.id)).toMatchObject({ per: '0.1016', version: 1 })
    await inTransaction(change('units', hand.id, { per: '127/1250' }))
    expect((await load('units', hand.id)).version).toBe(1)
  })
  it.each<[string, object, string, string]>([
    ['keep their ratio while they are used', { per: '500' }, 'per', 'kilogram is used by '],
    ['keep their code', { code: 'kilo' }, 'code', 'kilogram is used by '],
  ])('that ship %s', async (_, fields, field, sentence) => {
    expect((await refusalOf(change('units', await idOf('units', 'kg'), fields))).fields?.[field]).toContain(sentence)
  })
  it('a used one is not taken away but retired; an unused one goes, and comes back', async () => {
    const kg = await idOf('units', 'kg')
    expect((await refusalOf((tx) => remove(tx, owner, shapeOf('units'), [kg]))).detail).toMatch(
      /^kg is used by .*Retire it instead/,
    )
    const hand = await idOf('units', 'hand')
    await inTransaction((tx) => remove(tx, owner, shapeOf('units'), [hand]))
    expect(await rows(db, sql`select 1 from units where code = 'hand'`)).toHaveLength(0)
    await inTransaction(async (tx) => undoChange(tx, owner, (await lastChange('units', hand)).id))
    expect(await load('units', hand)).toMatchObject({ code: 'hand', per: '0.1016' })
  })
})

describe('an item', () => {
  it('is found by any of its codes, and a barcode tells the unit', async () => {
    const bone = await idOf('items', 'BONE')
    await inTransaction(
      change('items', bone, {
        relations: [{ unit: 'carton', per: '12', ofUnit: 'piece' }],
        codes: [
          { code: '9521101530001', kind: 'barcode', unit: 'piece' },
          { code: '19521101530008', kind: 'barcode', unit: 'carton' },
          { code: 'FALZ-7', kind: 'code', unit: null, whose: 'the old price list' },
        ],
      }),
    )
    // 1·3 + 9 + 5·3 + 2 + 1·3 + 1 + 0·3 + 1 + 5·3 + 3 + 0·3 + 0 + 0·3 = 52, up to 60: the check digit is 8.
    expect((await byScan('19521101530008'))[0]).toMatchObject({ code: 'BONE', unit: 'carton', by: '19521101530008' })
    expect((await byScan('(01)09521101530001(10)L-7'))[0]).toMatchObject({ code: 'BONE', unit: 'piece' })
    expect((await find('falz-7'))[0]).toMatchObject({ code: 'BONE', by: 'FALZ-7' })
    expect((await find('old price lst'))[0]).toMatchObject({ code: 'BONE' })
  })
  it('does not share a barcode, however it is written', async () => {
    expect(
      (
        await refusalOf(
          change('items', await idOf('items', 'AWL'), { codes: [{ code: '09521101530001', kind: 'barcode' }] }),
        )
      ).fields?.['codes.0.code'],
    ).toBe('The barcode 09521101530001 is that of BONE.')
  })
  it('keeps a relation that a bill counts on', async () => {
    const refusal = await refusalOf(change('items', await idOf('items', 'GLUE-TUB'), { relations: [] }))
    expect(refusal.fields?.relations).toMatch(
      /^The b.* uses it in (gram|kilogram); without this relation nothing says what that is\./,
    )
  })
  it('what was there is named: a supplier, a site, a picture', async () => {
    const refusal = await refusalOf(
      change('items', await idOf('items', 'AWL'), {
        groupId: 9999,
        pictureId: 77,
        terms: [{ supplierId: 888, unit: 'piece', price: '1', leadDays: 1 }],
        marks: [{ siteId: 99, safetyStock: '1' }],
        substitutes: [{ itemId: 4242 }],
        prices: [{ unit: 'litre', price: '1', customerId: 5000 }],
      }),
    )
    expect(refusal.fields).toEqual({
      groupId: 'There is no such group.',
      pictureId: 'There is no such picture.',
      'terms.0.supplierId': 'There is no such supplier.',
      'prices.0.customerId': 'There is no such customer.',
      'marks.0.siteId': 'There is no such site.',
      'substitutes.0.itemId': 'There is no such item.',
      'prices.0.unit': 'There is no unit “litre”.',
    })
  })
})

describe('changes', () => {
  it('of what something costs are told to whoever may see that only; the others see all else', async () => {
    const made = await inTransaction(make('items', item('COSTLY', { groupId: await idOf('item_groups', 'TOOLS') })))
    const supplierId = await idOf('suppliers', 'TULLY')
    const terms = [{ supplierId, unit: 'piece', price: '7.77', minimum: '0', multiple: '0', leadDays: 3 }]
    await inTransaction(change('items', made.id, { orderCost: '8.88', name: 'Costly thing', terms }))
    const told = async (seesCosts: boolean): Promise<string> =>
      JSON.stringify((await changesOf(db, 'items', made.id, seesCosts))[0]!.lines)
    expect(await told(true)).toMatch(/8\.88.*7\.77|7\.77.*8\.88/)
    expect(await told(false)).toContain('Costly thing')
    expect(await told(false)).not.toMatch(/7\.77|8\.88/)
  })
  it('are told in words: who, field, before → after', async () => {
    const awl = await idOf('items', 'AWL')
    const packing = await idOf('item_groups', 'PACKING')
    await inTransaction(change('items', awl, { groupId: packing, note: 'Sharpen monthly', codes: [] }))
    expect(await lastChange('items', awl)).toMatchObject({
      who: 'Ines Hartwell',
      what: 'changed',
      label: 'AWL',
      lines: [
        { field: 'group', before: 'TOOLS', after: 'PACKING' },
        { field: 'note', before: 'nothing', after: 'Sharpen monthly' },
        { field: 'codes', before: 'code 9520000000134, kind barcode, unit piece, whose own', after: 'nothing' },
      ],
    })
  })
  it('are undone field by field; what was changed again since stands in the way', async () => {
    const awl = await idOf('items', 'AWL')
    const first = await lastChange('items', awl)
    await inTransaction(change('items', awl, { name2: 'Pfriem' }))
    await inTransaction((tx) => undoChange(tx, owner, first.id))
    expect(await load('items', awl)).toMatchObject({
      name2: 'Pfriem',
      note: '',
      groupId: await idOf('item_groups', 'TOOLS'),
      codes: [{ code: '9520000000134' }],
    })
    expect((await refusalOf((tx) => undoChange(tx, owner, first.id))).detail).toBe('This change is undone already.')
    await inTransaction(change('items', awl, { note: 'A' }))
    const second = await lastChange('items', awl)
    await inTransaction(change('items', awl, { note: 'B' }))
    expect((await refusalOf((tx) => undoChange(tx, owner, second.id))).detail).toBe(
      'AWL: this has been changed again since (note). Undo the later change first.',
    )
  })
  it('nothing that stays the same is a change', async () => {
    const awl = await idOf('items', 'AWL')
    const before = await load('items', awl)
    await inTransaction(change('items', awl, {}))
    expect(await load('items', awl)).toEqual(before)
  })
  it('a new definition goes again while nothing uses it', async () => {
    const made = await inTransaction(
      make('items', item('SOON-GONE', { groupId: await idOf('item_groups', 'TOOLS'), codes: [{ code: 'SG-1' }] })),
    )
    await inTransaction(async (tx) => undoChange(tx, owner, (await lastChange('items', made.id)).id))
    expect(await find('SOON-GONE')).toEqual([])
    expect(await rows(db, sql`select 1 from item_codes where code = 'SG-1'`)).toHaveLength(0)
    const awl = await refusalOf(async (tx) =>
      undoChange(tx, owner, (await changesOf(tx, 'items', await idOf('items', 'BOARD-2'), true)).at(-1)!.id),
    )
    expect(awl.detail).toMatch(/^BOARD-2 is used by |^BOARD-2 has been changed since/)
  })
})

describe('what is still needed is not retired', () => {
  it.each([
    ['bins', 'places', 'RACK', /lies here still\. Move what is in the bin first\.$/],
    ['suppliers', 'suppliers', 'TULLY', /^It has \d open purchase orders/],
    ['customers', 'customers', 'LARK', /^It has \d open sales orders/],
    ['sites', 'sites', 'WORKSHOP', /^Bin .* of it is in use/],
  ] as const)('%s', async (kind, table, code, sentence) => {
    expect((await refusalOf(change(kind, await idOf(table, code), { retired: true }))).fields?.retired).toMatch(
      sentence,
    )
  })
})

describe('many at once', () => {
  it('two that swap their codes may; two that want the same may not', async () => {
    const [a, b] = [await load('items', await idOf('items', 'WAX')), await load('items', await idOf('items', 'NEEDLE'))]
    const edit = ({ id, version, ...definition }: Stored<'items'>, code: string) => {
      void version
      return { id, version: null, definition: { ...definition, code } }
    }
    const clash = await inTransaction((tx) => saveAll(tx, owner, shapeOf('items'), [edit(a, 'SAME'), edit(b, 'SAME')]))
    expect(clash).toMatchObject({
      ok: false,
      error: [{ edit: 1, field: 'code', detail: 'The code SAME is taken. Choose another.' }],
    })
    expect((await load('items', a.id)).code).toBe('WAX')
  })
  it('to retire what is still needed is told first: what lies there, open documents, bills', async () => {
    const ids = await Promise.all(['WAX', 'KIT-FIRST'].map((code) => idOf('items', code)))
    const idle = await makeItem('IDLE-ONE')
    const set = { ids: [...ids, idle], field: 'status' as const, value: 'retired', inherit: false, dry: true }
    const preview = await inTransaction((tx) => setMany(tx, owner, set))
    expect(preview.changing).toBe(3)
    expect(preview.stillUsed.map((item) => item.code)).toEqual(['KIT-FIRST', 'WAX'])
    const [kit, wax] = preview.stillUsed
    expect(kit!.uses).toMatch(/pc in stock, SO-\d+/)
    expect(wax!.uses).toMatch(/ in stock, .*bill of .*KIT-FIRST/)
  })
})
