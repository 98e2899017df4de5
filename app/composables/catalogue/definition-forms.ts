import { COSTINGS, ITEM_SOURCES, TRACKINGS, TRAIT_KINDS } from '~~/shared/catalogue/words'
import { DIMENSIONS, type DefinitionKind } from '~~/shared/catalogue/definitions'
import type { GridColumn, GridOption } from '../ui/use-grid-paste'

export type ListKind = Exclude<DefinitionKind, 'items' | 'bills' | 'break-downs'>
type References = ReturnType<typeof useReferences>

/** One field of a definition's form. A path with a point lies one step deeper. */
export interface FormFieldOf {
  readonly key: string
  readonly label: string
  readonly kind?: 'text' | 'number' | 'choice' | 'check' | 'long' | 'week'
  readonly span?: number
  readonly options?: (references: References, now: number | null) => readonly GridOption[]
  readonly empty?: string
  readonly hint?: string
  readonly quick?: boolean
  readonly head?: string
}
export interface FormListOf {
  readonly key: string
  readonly title: string
  readonly summary?: string
  readonly add: string
  readonly columns: (references: References) => readonly GridColumn[]
  readonly requiredCells: readonly string[]
  readonly blank: Readonly<Record<string, unknown>>
}
export interface DefinitionForm {
  readonly title: string
  readonly one: string
  readonly summary: string
  readonly used: string
  readonly fields: readonly FormFieldOf[]
  readonly lists: readonly FormListOf[]
  readonly blank: Readonly<Record<string, unknown>>
  readonly empty: string
}

const code: FormFieldOf = { key: 'code', label: 'Code', quick: true }
const name: FormFieldOf = { key: 'name', label: 'Name', span: 2, quick: true }
const note: FormFieldOf = { key: 'note', label: 'Note', kind: 'long', span: 4 }
const retired: FormFieldOf = { key: 'retired', label: 'Retired: offered no more', kind: 'check', span: 2 }
const calendar: FormFieldOf = {
  key: 'calendarId',
  label: 'Working calendar',
  kind: 'choice',
  empty: 'every day',
  options: (r) => r.calendars.map((c) => ({ value: c.id, name: c.name })),
}
const units = (r: References) =>
  r.units.filter((u) => !u.retired).map((u) => ({ value: u.code, name: `${u.name} (${u.symbol})`, code: u.symbol }))
const inherited = (key: string, label: string, rest: Partial<FormFieldOf>): FormFieldOf => ({
  key: `defaults.${key}`,
  label,
  hint: '',
  ...rest,
})
const unitOf = (key: string, label: string): FormFieldOf =>
  inherited(key, label, { kind: 'choice', empty: 'not stated', options: units })
const words = (list: readonly string[]) => () => list.map((word) => ({ value: word, name: word }))
const head = { code: '', name: '', note: '', retired: false }

/** How each list of the catalogue is shown and edited. */
export const DEFINITION_FORMS: Readonly<Record<ListKind, DefinitionForm>> = {
  groups: {
    title: 'Groups',
    one: 'group',
    summary: 'Families of items. What a group states, its items and the groups below take over.',
    used: 'Items',
    empty: 'Begin with the families that your shelves have: paper, adhesives, tools.',
    blank: { code: '', name: '', parentId: null, note: '', numberPattern: '', defaults: {}, traits: [] },
    fields: [
      code,
      name,
      {
        key: 'parentId',
        label: 'Lies within',
        kind: 'choice',
        empty: 'no other group',
        options: (r) => r.groupChoices,
      },
      { key: 'numberPattern', label: 'Numbering', hint: '# for each digit: GLUE-###' },
      inherited('source', 'Items come by being', {
        head: 'What its items take over',
        kind: 'choice',
        empty: 'not stated',
        options: words(ITEM_SOURCES),
      }),
      inherited('tracking', 'Tracking', { kind: 'choice', empty: 'not stated', options: words(TRACKINGS) }),
      inherited('shelfLifeDays', 'Shelf life, days', { kind: 'number' }),
      inherited('leadDays', 'Working days it takes', { kind: 'number' }),
      inherited('costing', 'Costing method', { kind: 'choice', empty: 'not stated', options: words(COSTINGS) }),
      inherited('countDays', 'Counted every, days', { kind: 'number' }),
      unitOf('stockUnit', 'Stock unit'),
      inherited('finestStep', 'Finest step', { kind: 'number' }),
      unitOf('buyingUnit', 'Buying unit'),
      unitOf('sellingUnit', 'Selling unit'),
      unitOf('makingUnit', 'Making unit'),
      note,
    ],
    lists: [
      {
        key: 'traits',
        title: 'Traits',
        summary: 'What is recorded of each lot: a dye lot, a thickness, a certificate.',
        add: 'Add a trait',
        requiredCells: ['name'],
        blank: { name: '', kind: 'text', unit: '', choices: '' },
        columns: (r) => [
          { key: 'name', name: 'Name' },
          {
            key: 'kind',
            name: 'Kind',
            kind: 'choice',
            options: TRAIT_KINDS.map((k) => ({ value: k, name: k })),
            width: '7rem',
          },
          { key: 'unit', name: 'In', kind: 'choice', empty: 'no unit', options: units(r), width: '9rem' },
          { key: 'choices', name: 'Choices, commas between' },
        ],
      },
    ],
  },
  units: {
    title: 'Units',
    one: 'unit',
    summary: 'Metric and inch-pound units ship with their exact ratios; packs get their content on each item.',
    used: 'Items',
    empty: '',
    blank: {
      code: '',
      name: '',
      plural: '',
      symbol: '',
      dimension: 'pack',
      per: '',
      decimals: '2',
      rec20: '',
      retired: false,
    },
    fields: [
      code,
      name,
      { key: 'plural', label: 'Plural', quick: true },
      { key: 'symbol', label: 'Symbol', quick: true },
      {
        key: 'dimension',
        label: 'Measures',
        kind: 'choice',
        options: words(DIMENSIONS),
        quick: true,
        hint: 'a pack holds what each item says',
      },
      {
        key: 'per',
        label: 'One of it is',
        kind: 'number',
        quick: true,
        hint: 'pieces, kg, m, m², m³ or s; exact: 0.0254 or 1/3',
      },
      { key: 'decimals', label: 'Decimals to print', kind: 'number' },
      { key: 'rec20', label: 'UN/ECE code', hint: 'Recommendation 20 or 21' },
      retired,
    ],
    lists: [],
  },
  suppliers: {
    title: 'Suppliers',
    one: 'supplier',
    summary: 'Whom you buy from.',
    used: 'Items',
    empty: 'Add a supplier, or bring a list in as a file.',
    blank: {
      ...head,
      email: '',
      phone: '',
      contact: '',
      address: '',
      calendarId: null,
      currencyId: null,
      paymentTerms: '',
    },
    fields: [
      code,
      name,
      { key: 'email', label: 'E-mail for orders', span: 2 },
      { key: 'phone', label: 'Telephone' },
      { key: 'contact', label: 'Whom to ask for' },
      calendar,
      {
        key: 'currencyId',
        label: 'Paid in',
        kind: 'choice',
        empty: 'your own currency',
        options: (r, now) => r.choices(r.currencies, now),
      },
      { key: 'paymentTerms', label: 'Terms of payment', span: 2 },
      { key: 'address', label: 'Address', kind: 'long', span: 2 },
      note,
      retired,
    ],
    lists: [],
  },
  customers: {
    title: 'Customers',
    one: 'customer',
    summary: 'Whom you sell to.',
    used: 'Open orders',
    empty: 'Add a customer, or bring a list in as a file.',
    blank: { ...head, email: '', phone: '', address: '', addresses: [], siteId: null, priceListId: null },
    fields: [
      code,
      name,
      { key: 'email', label: 'E-mail', span: 2 },
      { key: 'phone', label: 'Telephone' },
      {
        key: 'priceListId',
        label: 'Price list',
        kind: 'choice',
        empty: 'none',
        options: (r, now) => r.choices(r.priceLists, now),
      },
      {
        key: 'siteId',
        label: 'Usually served from',
        kind: 'choice',
        empty: 'any site',
        options: (r, now) => r.choices(r.sites, now),
      },
      { key: 'address', label: 'Address', kind: 'long', span: 4 },
      note,
      retired,
    ],
    lists: [
      {
        key: 'addresses',
        title: 'Other addresses to ship to',
        add: 'Add an address',
        requiredCells: ['name', 'address'],
        blank: { name: '', address: '' },
        columns: () => [
          { key: 'name', name: 'Name', width: '12rem' },
          { key: 'address', name: 'Address' },
        ],
      },
    ],
  },
  'price-lists': {
    title: 'Price lists',
    one: 'price list',
    summary: 'Prices that many customers share; they stand on each item.',
    used: 'Prices',
    empty: 'Most companies begin without one.',
    blank: head,
    fields: [code, name, note, retired],
    lists: [],
  },
  sites: {
    title: 'Sites',
    one: 'site',
    summary: 'Workshop, stores, a warehouse that packs for you.',
    used: 'Bins',
    empty: 'Add the house where you work.',
    blank: { ...head, calendarId: null, address: '', outside: false },
    fields: [
      code,
      name,
      calendar,
      { key: 'outside', label: 'An outside warehouse', kind: 'check', span: 2 },
      { key: 'address', label: 'Address', kind: 'long', span: 2 },
      note,
      retired,
    ],
    lists: [],
  },
  bins: {
    title: 'Bins',
    one: 'bin',
    summary: 'Shelves, bays, benches: where things lie in a site.',
    used: 'Items there',
    empty: 'Add the shelves of your store.',
    blank: {
      ...head,
      siteId: null,
      pickOrder: '0',
      closedToPicking: false,
      closedToReceiving: false,
      quarantine: false,
    },
    fields: [
      code,
      name,
      {
        key: 'siteId',
        label: 'In the site',
        kind: 'choice',
        empty: 'Choose …',
        options: (r, now) => r.choices(r.sites, now),
        quick: true,
      },
      { key: 'pickOrder', label: 'Pick order', kind: 'number', hint: 'low numbers are walked to first' },
      { key: 'closedToPicking', label: 'Closed to picking', kind: 'check' },
      { key: 'closedToReceiving', label: 'Closed to receiving', kind: 'check' },
      { key: 'quarantine', label: 'Quarantine: never picked from', kind: 'check', span: 2 },
      note,
      retired,
    ],
    lists: [],
  },
  routes: {
    title: 'Routes',
    one: 'route',
    summary: 'Usual ways between two sites, and how many days goods are on the way.',
    used: 'Open transfers',
    empty: 'Without one, goods arrive on the day they leave.',
    blank: { ...head, fromSiteId: null, toSiteId: null, days: '0' },
    fields: [
      code,
      name,
      {
        key: 'fromSiteId',
        label: 'From',
        kind: 'choice',
        empty: 'Choose …',
        options: (r, now) => r.choices(r.sites, now),
      },
      { key: 'toSiteId', label: 'To', kind: 'choice', empty: 'Choose …', options: (r, now) => r.choices(r.sites, now) },
      { key: 'days', label: 'Days on the way', kind: 'number' },
      note,
      retired,
    ],
    lists: [],
  },
  calendars: {
    title: 'Calendars',
    one: 'calendar',
    summary: 'Working weekdays and closed days of your sites and suppliers.',
    used: 'Sites, suppliers',
    empty: 'Add the week that you work.',
    blank: { name: '', note: '', weekdays: [true, true, true, true, true, false, false], workHours: '', closed: [] },
    fields: [
      name,
      { key: 'workHours', label: 'Hours of work a day', kind: 'number', hint: 'of all hands; the workshop’s board' },
      { key: 'weekdays', label: 'Worked on', kind: 'week', span: 4 },
      note,
    ],
    lists: [
      {
        key: 'closed',
        title: 'Closed days',
        add: 'Add a closed day',
        requiredCells: ['day'],
        blank: { day: '', note: '' },
        columns: () => [
          { key: 'day', name: 'Day', kind: 'date', width: '11rem' },
          { key: 'note', name: 'Why' },
        ],
      },
    ],
  },
  currencies: {
    title: 'Currencies',
    one: 'currency',
    summary: 'Others than your own, in which suppliers are paid.',
    used: 'Suppliers',
    empty: 'None is needed while all are paid in your own.',
    blank: { code: '', name: '', retired: false, rates: [] },
    fields: [code, name, retired],
    lists: [
      {
        key: 'rates',
        title: 'What one of it is worth in your own',
        add: 'Add a rate',
        requiredCells: ['fromOn', 'rate'],
        blank: { fromOn: '', rate: '' },
        columns: () => [
          { key: 'fromOn', name: 'From the day', kind: 'date', width: '11rem' },
          { key: 'rate', name: 'Rate', kind: 'number', width: '9rem' },
        ],
      },
    ],
  },
}
