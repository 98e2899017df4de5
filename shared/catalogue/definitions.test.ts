import { describe, expect, it } from 'vitest'
import { SetMany } from './requests'
import { ItemEdit } from './item'
import { GroupDefaults } from './item-parts'
import { PrintLabels } from './labels'
import { DEFINITION_NAMES, DEFINITIONS, rightToChange, type DefinitionKind } from './words'
import { DEFINITION_SCHEMAS, HolidayQuery } from './definitions'
import { NewImport } from './import'
import { TABLES } from './words'
import { may } from '../company/rights'

/** The first fault of a definition as `field: sentence`, or that it is taken. */
function first(kind: DefinitionKind, fields: object): string {
  const read = DEFINITION_SCHEMAS[kind].safeParse(fields)
  return read.success ? 'taken' : `${read.error.issues[0]!.path.join('.')}: ${read.error.issues[0]!.message}`
}

const WHOLE: Readonly<Record<Exclude<DefinitionKind, 'items'>, object>> = {
  units: { code: 'hand', name: 'hand', plural: 'hands', symbol: 'hh', dimension: 'length', per: '0.1016' },
  groups: { code: 'G', name: 'G' },
  suppliers: { code: 'S', name: 'S' },
  customers: { code: 'C', name: 'C' },
  'price-lists': { code: 'P', name: 'P' },
  sites: { code: 'W', name: 'W' },
  bins: { code: 'B', name: 'B', siteId: 1 },
  routes: { code: 'R', name: 'R', fromSiteId: 1, toSiteId: 2 },
  calendars: { name: 'Week', weekdays: [true, true, true, true, true, false, false] },
  currencies: { code: 'GBP', name: 'pound' },
  bills: { itemId: 1, batchUnit: 'piece' },
  'break-downs': { itemId: 1, unit: 'sheet', outputs: [{ itemId: 2, quantity: '16', unit: 'piece' }] },
}

describe('definitions', () => {
  it.each(Object.entries(WHOLE))('%s: the least that is needed is taken', (kind, fields) => {
    expect(first(kind as DefinitionKind, fields)).toBe('taken')
  })
  it.each<[Exclude<DefinitionKind, 'items'>, object, string]>([
    ['units', { code: '' }, 'code: Give a code.'],
    [
      'units',
      { dimension: 'weight' },
      'dimension: “weight” is not one of: count, mass, length, area, volume, time, pack.',
    ],
    ['units', { per: '' }, 'per: Give what one of it is, above zero.'],
    ['units', { per: '0/3' }, 'per: Give what one of it is, above zero.'],
    ['units', { dimension: 'pack' }, 'per: What a pack holds is stated on each item, not here.'],
    ['units', { decimals: '10' }, 'decimals: Nine at most.'],
    ['units', { rec20: 'kg' }, 'rec20: A UN/ECE code has two or three capital letters or digits, such as KGM.'],
    ['units', { per: 'ten' }, 'per: Write a number such as 24, 1.32 or 1/3.'],
    [
      'groups',
      { numberPattern: 'GLUE' },
      'numberPattern: Write a pattern with # for each digit, for example GLUE-###.',
    ],
    ['groups', { defaults: { leadDays: '-1' } }, 'defaults.leadDays: A lead time is not below zero.'],
    ['groups', { defaults: { finestStep: '0' } }, 'defaults.finestStep: The finest step must be above zero.'],
    [
      'groups',
      { traits: [{ name: 'grade', kind: 'choice', choices: 'first' }] },
      'traits.0.choices: Give at least two choices, with commas between.',
    ],
    ['groups', { traits: [{ name: '' }] }, 'traits.0.name: Give a name.'],
    ['suppliers', { email: 'nobody' }, 'email: Give an e-mail address.'],
    ['customers', { addresses: [{ name: 'Shop', address: '' }] }, 'addresses.0.address: Give an address.'],
    ['bins', { siteId: null }, 'siteId: Choose one.'],
    ['bins', { pickOrder: '1.5' }, 'pickOrder: Give a whole number.'],
    ['routes', { toSiteId: 1 }, 'toSiteId: Choose another site than the one it begins at.'],
    ['routes', { days: '-1' }, 'days: Not below zero.'],
    [
      'calendars',
      { weekdays: [false, false, false, false, false, false, false] },
      'weekdays: At least one day of the week is worked.',
    ],
    [
      'calendars',
      { closed: [{ day: '2026-12-24' }, { day: '2026-12-24' }] },
      'closed.1.day: This day is there already.',
    ],
    [
      'calendars',
      { closed: [{ day: 'Christmas' }] },
      'closed.0.day: “Christmas” is no date. Write it as year-month-day, for example 2026-10-05.',
    ],
    ['currencies', { code: 'pound' }, 'code: Give the three letters of ISO 4217, for example GBP.'],
    ['currencies', { rates: [{ fromOn: '2026-01-01', rate: '0' }] }, 'rates.0.rate: Give a rate above zero.'],
    [
      'currencies',
      {
        rates: [
          { fromOn: '2026-01-01', rate: '1' },
          { fromOn: '2026-01-01', rate: '2' },
        ],
      },
      'rates.1.fromOn: A rate from this day is there already.',
    ],
  ])('%s with %j: %s', (kind, change, fault) => {
    expect(first(kind, { ...WHOLE[kind], ...change })).toBe(fault)
  })
  it('what lies in quarantine is not picked', () => {
    expect(DEFINITION_SCHEMAS.bins.parse({ ...WHOLE.bins, quarantine: true })).toMatchObject({
      quarantine: true,
      closedToPicking: true,
    })
  })
  it('exact numbers have one way to be written', () => {
    expect(DEFINITION_SCHEMAS.units.parse({ ...WHOLE.units, per: '254/2500' }).per).toBe('0.1016')
  })
  it('each kind has a name and a right that somebody beside the owner has', () => {
    for (const kind of DEFINITIONS) {
      expect([DEFINITION_NAMES[kind].length > 0, may('planner', rightToChange(kind))]).toEqual([true, true])
    }
    expect(DEFINITIONS.filter((kind) => !may('buyer', rightToChange(kind)))).toEqual(['customers', 'price-lists'])
  })
})

describe('an item as a whole', () => {
  const item = (change: object) => ({
    code: 'A',
    name: 'A',
    groupId: 1,
    stockUnit: 'piece',
    buyingUnit: 'piece',
    sellingUnit: 'piece',
    finestStep: '1',
    ...change,
  })
  const terms = { supplierId: 1, unit: 'piece', price: '1', leadDays: 5 }
  it.each<[object, string]>([
    [
      { safetyStock: '5', reorderPoint: '4' },
      'reorderPoint: The reorder point of 4 lies below the safety stock of 5. From low to high they are: safety stock, reorder point, target, maximum.',
    ],
    [
      { maximumStock: '10', marks: [{ siteId: 1, safetyStock: '12' }] },
      'marks.0.maximumStock: The maximum of 10 lies below the safety stock of 12. From low to high they are: safety stock, reorder point, target, maximum.',
    ],
    [{ marks: [{ safetyStock: '1', yearly: true }] }, 'marks.0.fromOn: A yearly season needs its first and last day.'],
    [{ marks: [{ fromOn: '2026-05-01', untilOn: '2026-04-01' }] }, 'marks.0.untilOn: It ends before it begins.'],
    [{ marks: [{ siteId: 1 }, { siteId: 1 }] }, 'marks.1.siteId: Marks for this site and first day are there already.'],
    [{ lowestPrice: '5', highestPrice: '4' }, 'highestPrice: The highest price of 4 lies below the lowest of 5.'],
    [{ price: '3', lowestPrice: '5' }, 'price: The price lies below the lowest allowed, 5.'],
    [{ price: '9', highestPrice: '8' }, 'price: The price lies above the highest allowed, 8.'],
    [{ source: 'moved from another site' }, 'fromSiteId: Choose the site that it comes from.'],
    [{ source: 'grown' }, 'source: “grown” is not one of: bought, made, kit, broken down, moved from another site.'],
    [
      { terms: [terms, terms] },
      'terms.1.supplierId: This supplier is there already. Add a price tier to its line instead.',
    ],
    [{ terms: [{ ...terms, rank: '0' }] }, 'terms.0.rank: Ranks begin at 1.'],
    [
      { terms: [{ ...terms, tiers: [{ fromQuantity: '', price: '1' }] }] },
      'terms.0.tiers.0.fromQuantity: “” is no number for the quantity. Write for example 2 or 0.25.',
    ],
    [
      {
        terms: [{ ...terms, tiers: [{ fromQuantity: '5', price: '1', fromOn: '2026-02-01', untilOn: '2026-01-01' }] }],
      },
      'terms.0.tiers.0.untilOn: It ends before it begins.',
    ],
    [
      { codes: [{ code: '6291041500214', kind: 'barcode' }] },
      'codes.0.code: The last digit of 6291041500214 should be 3. Compare it with the label.',
    ],
    [{ codes: [{ code: 'X1' }, { code: 'x1' }] }, 'codes.1.code: This code is there already.'],
    [{ relations: [{ unit: 'box', per: '0', ofUnit: 'piece' }] }, 'relations.0.per: Give a content above zero.'],
    [
      {
        relations: [
          { unit: 'box', per: '8', ofUnit: 'piece' },
          { unit: 'box', per: '8', ofUnit: 'piece' },
        ],
      },
      'relations.1.per: This relation is there already.',
    ],
    [
      { prices: [{ unit: 'piece', price: '1', priceListId: 1, customerId: 2 }] },
      'prices.0.customerId: A price belongs to a list or to a customer, not to both.',
    ],
    [
      {
        prices: [
          { unit: 'piece', price: '1' },
          { unit: 'piece', price: '2' },
        ],
      },
      'prices.1.price: This price is there already: same for whom, unit, quantity and first day.',
    ],
    [{ substitutes: [{ itemId: 2, per: '0' }] }, 'substitutes.0.per: Give a ratio above zero.'],
    [{ substitutes: [{ itemId: 2 }, { itemId: 2 }] }, 'substitutes.1.itemId: This substitute is there already.'],
    [
      { links: [{ title: 'x', url: 'javascript:alert(1)' }] },
      'links.0.url: Give an address that begins with http:// or https://.',
    ],
    [{ shelfLifeDays: '0' }, 'shelfLifeDays: Give days above zero.'],
    [{ price: 'free' }, 'price: “free” is no price. Write for example 12.50.'],
    [
      { inherited: ['name'] },
      'inherited.0: Invalid option: expected one of "source"|"stockUnit"|"buyingUnit"|"sellingUnit"|"makingUnit"|"finestStep"|"tracking"|"costing"|"shelfLifeDays"|"leadDays"',
    ],
  ])('with %j: %s', (change, fault) => {
    expect(first('items', item(change))).toBe(fault)
  })
  it('empty fields of a form are nothing', () => {
    expect(
      ItemEdit.parse(
        item({
          shelfLifeDays: '',
          price: '',
          reorderPoint: '',
          fromSiteId: '',
          pictureId: null,
          codes: [{ code: 'A', unit: '' }],
        }),
      ),
    ).toMatchObject({
      shelfLifeDays: null,
      price: null,
      reorderPoint: null,
      fromSiteId: null,
      pictureId: null,
      codes: [{ unit: null }],
      makingUnit: 'piece',
    })
  })
  it('a barcode that is no GTIN is an ordinary one', () => {
    expect(first('items', item({ codes: [{ code: 'SHELF-4711', kind: 'barcode' }] }))).toBe('taken')
  })
  it('a group may state some fields and leave others', () => {
    expect(GroupDefaults.parse({ leadDays: '4' })).toEqual({ leadDays: 4 })
  })
})

describe('what is asked of the catalogue', () => {
  const sentence = (
    schema: { safeParse(data: unknown): { success: boolean; error?: { issues: { message: string }[] } } },
    data: unknown,
  ): string => schema.safeParse(data).error?.issues[0]?.message ?? 'taken'
  it.each([
    [{ ids: [] }, 'Choose at least one item.'],
    [{ field: 'code' }, 'Choose a field.'],
    [{}, 'taken'],
  ])('many at once with %j: %s', (change, answer) => {
    expect(sentence(SetMany, { ids: [1], field: 'status', value: 'active', ...change })).toBe(answer)
  })
  it.each([
    [{ symbology: 'EAN' }, 'Choose a kind of barcode.'],
    [{ items: [] }, 'Choose at least one item.'],
    [{ items: [{ id: 1, unit: 'piece', copies: '0' }] }, 'At least one.'],
    [{}, 'taken'],
  ])('labels with %j: %s', (change, answer) => {
    expect(
      sentence(PrintLabels, {
        symbology: 'QR',
        sheet: 'A4, 2 × 7',
        items: [{ id: 1, unit: 'piece', copies: '2' }],
        ...change,
      }),
    ).toBe(answer)
  })
  it.each([
    [{ table: 'people' }, 'There is no such table.'],
    [{ content: '***' }, 'The file could not be read.'],
    [{ fileName: '' }, 'Give a file name.'],
    [{}, 'taken'],
  ])('a file with %j: %s', (change, answer) => {
    expect(sentence(NewImport, { table: 'items', fileName: 'a.csv', content: 'eA==', ...change })).toBe(answer)
  })
  it.each([
    [{ country: 'Germany' }, 'Choose a country.'],
    [{}, 'taken'],
  ])('holidays with %j: %s', (change, answer) => {
    expect(sentence(HolidayQuery, { country: 'DE', year: '2026', ...change })).toBe(answer)
  })
  it('every definition has a table of its own', () => {
    expect(DEFINITIONS.filter((kind) => !TABLES.includes(kind))).toEqual([])
  })
})
