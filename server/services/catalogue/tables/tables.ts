import type { TableName } from '~~/shared/catalogue/import'
import type { DefinitionKind } from '~~/shared/catalogue/definitions'
import { day, named, number, text, unit, week, word, yesNo, type Column } from './columns'

/**
 * A table of the catalogue: lines that fill definitions of one kind.
 *
 * Without `list` a line is a definition; with it a line is an entry of that list, and `by` are the fields that tell one entry
 * from another (of these the `loose` ones do not count where a line leaves them out). `within` is the list entry that holds the
 * list, where there is one between.
 */
export interface Table {
  readonly name: TableName
  readonly kind: DefinitionKind
  /** The column that names the definition, and the field in it. */
  readonly key: string
  readonly keyField: 'code' | 'name'
  readonly list?: {
    readonly field: string
    readonly by: readonly string[]
    readonly within?: { readonly field: string; readonly by: string }
    readonly loose?: readonly string[]
  }
  /** The definition is named by its item and by a number among those of the item; this is the column of the number. */
  readonly numbered?: 'revision' | 'rank'
  readonly columns: readonly Column[]
  /** Kinds whose codes its cells name. */
  readonly names: readonly DefinitionKind[]
  readonly summary: string
}

const own = (
  name: TableName & DefinitionKind,
  summary: string,
  columns: readonly Column[],
  names: readonly DefinitionKind[] = [],
): Table => ({
  name,
  kind: name,
  key: columns[0]!.name,
  keyField: columns[0]!.name === 'name' ? 'name' : 'code',
  columns,
  names: [name, ...names],
  summary,
})
/** `key` is the column that names the definition whose list the lines fill. */
const list = (
  name: TableName,
  { kind, key, ...list }: NonNullable<Table['list']> & { readonly kind: DefinitionKind; readonly key: string },
  summary: string,
  columns: readonly Column[],
  names: readonly DefinitionKind[] = [],
): Table => ({
  name,
  kind,
  key,
  keyField: kind === 'calendars' ? 'name' : 'code',
  list,
  columns,
  names: [kind, ...names],
  summary,
})

const code = text('code', { needed: true, empty: undefined })
const name = text('name', { needed: true, empty: undefined })
const retired = yesNo('retired')
const span = [day('from_on', { also: ['valid from'] }), day('until_on', { also: ['valid until'] })]

/** “none” in a cell is an item's own nothing, whatever its group says. */
const orNone = (column: Column): Column => ({
  ...column,
  read: (cell, reading) => (cell.toLowerCase() === 'none' ? null : column.read(cell, reading)),
})

/** A column of a list that fills the definition itself, the same in every line of it. */
const ofHead = (column: Column): Column => ({ ...column, ofHead: true })
const renamed = (column: Column, field: string): Column => ({ ...column, field })

export const TABLE: Readonly<Record<TableName, Table>> = {
  currencies: own('currencies', 'currencies other than your own', [code, name, retired]),
  'exchange-rates': list(
    'exchange-rates',
    { kind: 'currencies', key: 'currency', field: 'rates', by: ['fromOn'] },
    'what one of a currency is worth, from a day on',
    [day('from_on', { needed: true }), number('rate', { needed: true })],
  ),
  calendars: own('calendars', 'working weekdays', [name, week('weekdays'), number('work_hours'), text('note')]),
  'closed-days': list(
    'closed-days',
    { kind: 'calendars', key: 'calendar', field: 'closed', by: ['day'] },
    'days that are closed all the same',
    [day('day', { needed: true }), text('note')],
  ),
  sites: own(
    'sites',
    'workshop, stores, outside warehouses',
    [
      code,
      name,
      named('calendar', 'calendars', { field: 'calendarId' }),
      text('address'),
      yesNo('outside'),
      text('note'),
      retired,
    ],
    ['calendars'],
  ),
  bins: own(
    'bins',
    'shelves, bays, benches',
    [
      code,
      name,
      named('site', 'sites', { field: 'siteId', needed: true }),
      number('pick_order', { empty: 0 }),
      yesNo('closed_to_picking'),
      yesNo('closed_to_receiving'),
      yesNo('quarantine'),
      text('note'),
      retired,
    ],
    ['sites'],
  ),
  routes: own(
    'routes',
    'usual ways between sites',
    [
      code,
      name,
      named('from_site', 'sites', { field: 'fromSiteId', needed: true }),
      named('to_site', 'sites', { field: 'toSiteId', needed: true }),
      number('days', { empty: 0 }),
      text('note'),
      retired,
    ],
    ['sites'],
  ),
  units: own('units', 'units of measure', [
    code,
    name,
    text('plural', { needed: true, empty: undefined }),
    text('symbol', { needed: true, empty: undefined }),
    word('dimension', { needed: true }),
    number('per', { also: ['reference units'] }),
    number('decimals', { empty: 2 }),
    text('rec20', { empty: null }),
    retired,
  ]),
  groups: own('groups', 'families of items and what they hand down', [
    code,
    name,
    named('parent', 'groups', { field: 'parentId' }),
    text('number_pattern'),
    word('source', { field: 'defaults.source' }),
    unit('stock_unit', { field: 'defaults.stockUnit' }),
    unit('buying_unit', { field: 'defaults.buyingUnit' }),
    unit('selling_unit', { field: 'defaults.sellingUnit' }),
    unit('making_unit', { field: 'defaults.makingUnit' }),
    number('finest_step', { field: 'defaults.finestStep', empty: undefined }),
    word('tracking', { field: 'defaults.tracking' }),
    number('shelf_life_days', { field: 'defaults.shelfLifeDays', empty: undefined }),
    number('lead_days', { field: 'defaults.leadDays', empty: undefined }),
    word('costing', { field: 'defaults.costing' }),
    number('count_days', { field: 'defaults.countDays', empty: undefined }),
    text('note'),
  ]),
  traits: list(
    'traits',
    { kind: 'groups', key: 'group', field: 'traits', by: ['name'] },
    'what is recorded of a lot of the group',
    [text('name', { needed: true, empty: undefined }), word('kind'), unit('unit', { empty: null }), text('choices')],
  ),
  suppliers: own(
    'suppliers',
    'whom you buy from',
    [
      code,
      name,
      text('email'),
      text('phone'),
      text('contact'),
      text('address'),
      named('calendar', 'calendars', { field: 'calendarId' }),
      named('currency', 'currencies', { field: 'currencyId' }),
      text('payment_terms'),
      text('note'),
      retired,
    ],
    ['calendars', 'currencies'],
  ),
  'price-lists': own('price-lists', 'prices for many customers', [code, name, text('note'), retired]),
  customers: own(
    'customers',
    'whom you sell to',
    [
      code,
      name,
      text('email'),
      text('phone'),
      text('address'),
      named('site', 'sites', { field: 'siteId', also: ['served from'] }),
      named('price_list', 'price-lists', { field: 'priceListId' }),
      text('note'),
      retired,
    ],
    ['sites', 'price-lists'],
  ),
  'customer-addresses': list(
    'customer-addresses',
    { kind: 'customers', key: 'customer', field: 'addresses', by: ['name'] },
    'where they have goods sent',
    [text('name', { needed: true, empty: undefined }), text('address', { needed: true, empty: undefined })],
  ),
  items: own(
    'items',
    'everything bought, made, packed and sold',
    [
      code,
      name,
      text('name2', { also: ['second name'] }),
      named('group', 'groups', { field: 'groupId', needed: true }),
      word('kind'),
      word('status'),
      word('source'),
      named('from_site', 'sites', { field: 'fromSiteId' }),
      word('tracking'),
      unit('stock_unit'),
      unit('buying_unit'),
      unit('selling_unit'),
      unit('making_unit'),
      number('finest_step', { empty: undefined }),
      number('lead_days', { empty: undefined }),
      orNone(number('shelf_life_days', { empty: undefined })),
      number('safety_stock', { empty: '0' }),
      number('reorder_point'),
      number('target_stock'),
      number('maximum_stock'),
      number('usual_order'),
      number('price'),
      number('lowest_price'),
      number('highest_price'),
      number('standard_cost'),
      word('costing'),
      word('kit_policy'),
      text('purchase_text'),
      text('sales_text'),
      text('note'),
    ],
    ['groups', 'sites'],
  ),
  'item-units': list(
    'item-units',
    { kind: 'items', key: 'item', field: 'relations', by: ['unit', 'ofUnit'] },
    'packs and bridges: one unit holds so many of another',
    [
      unit('unit', { needed: true }),
      number('holds', { field: 'per', needed: true }),
      unit('of', { field: 'ofUnit', needed: true }),
    ],
  ),
  'item-codes': list(
    'item-codes',
    { kind: 'items', key: 'item', field: 'codes', by: ['kind', 'code'] },
    'barcodes and other codes',
    [text('code', { needed: true, empty: undefined }), word('kind'), unit('unit', { empty: null }), text('whose')],
  ),
  'supplier-terms': list(
    'supplier-terms',
    { kind: 'items', key: 'item', field: 'terms', by: ['supplierId'] },
    'who delivers it, for how much, how fast',
    [
      named('supplier', 'suppliers', { field: 'supplierId', needed: true }),
      number('rank', { empty: 1 }),
      text('supplier_code'),
      unit('unit', { needed: true }),
      number('price', { needed: true }),
      number('minimum', { empty: '0' }),
      number('multiple', { empty: '0' }),
      number('lead_days', { needed: true }),
    ],
    ['suppliers'],
  ),
  'price-tiers': list(
    'price-tiers',
    {
      kind: 'items',
      key: 'item',
      field: 'tiers',
      by: ['fromQuantity', 'fromOn'],
      within: { field: 'terms', by: 'supplierId' },
    },
    'a supplier’s price from a quantity or a day on',
    [
      named('supplier', 'suppliers', { field: 'supplierId', needed: true }),
      number('from_quantity', { needed: true }),
      ...span,
      number('price', { needed: true }),
    ],
    ['suppliers'],
  ),
  prices: list(
    'prices',
    {
      kind: 'items',
      key: 'item',
      field: 'prices',
      by: ['priceListId', 'customerId', 'unit', 'fromQuantity', 'fromOn'],
    },
    'selling prices by unit, quantity, list and customer',
    [
      named('price_list', 'price-lists', { field: 'priceListId' }),
      named('customer', 'customers', { field: 'customerId' }),
      unit('unit', { needed: true }),
      number('from_quantity', { empty: '0' }),
      ...span,
      number('price', { needed: true }),
    ],
    ['price-lists', 'customers'],
  ),
  'stock-marks': list(
    'stock-marks',
    { kind: 'items', key: 'item', field: 'marks', by: ['siteId', 'fromOn'] },
    'safety stock and the like, by site and season',
    [
      named('site', 'sites', { field: 'siteId' }),
      ...span,
      yesNo('yearly'),
      number('safety_stock'),
      number('reorder_point'),
      number('target_stock'),
      number('maximum_stock'),
    ],
    ['sites'],
  ),
  substitutes: list(
    'substitutes',
    { kind: 'items', key: 'item', field: 'substitutes', by: ['itemId'] },
    'what may stand in for an item',
    [
      named('substitute', 'items', { field: 'itemId', needed: true }),
      number('rank', { empty: 1 }),
      number('ratio', { field: 'per', empty: '1' }),
      yesNo('both_ways'),
    ],
  ),
  bills: {
    ...own(
      'bills',
      'bills of materials and kits: batch, yield, work',
      [
        named('item', 'items', { field: 'itemId', needed: true }),
        number('revision', { empty: undefined }),
        day('from_on', { also: ['in use from'] }),
        number('batch', { field: 'batchSize', empty: '1' }),
        unit('unit', { field: 'batchUnit', also: ['batch unit'] }),
        number('yield_percent', { empty: '100' }),
        number('work_minutes', { empty: '0' }),
        number('minutes_per_unit', { empty: '0' }),
        number('work_rate', { empty: '0' }),
        number('other_cost', { empty: '0' }),
        text('note'),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'bill-lines': {
    ...list(
      'bill-lines',
      { kind: 'bills', key: 'item', field: 'lines', by: ['itemId', 'position'], loose: ['position'] },
      'components of bills and kits, a line each',
      [
        number('position', { empty: undefined }),
        named('component', 'items', { field: 'itemId', needed: true }),
        number('quantity', { needed: true }),
        unit('unit', { needed: true }),
        word('basis', { empty: undefined }),
        number('scrap_percent', { empty: '0' }),
        number('offset_days', { empty: 0 }),
        yesNo('phantom'),
        text('note'),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'bill-substitutes': {
    ...list(
      'bill-substitutes',
      { kind: 'bills', key: 'item', field: 'substitutes', by: ['itemId'], within: { field: 'lines', by: 'component' } },
      'what may stand in for a component in a bill',
      [
        named('component', 'items', { needed: true }),
        named('substitute', 'items', { field: 'itemId', needed: true }),
        number('rank', { empty: 1 }),
        number('ratio', { field: 'per', empty: '1' }),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'by-products': {
    ...list(
      'by-products',
      { kind: 'bills', key: 'item', field: 'byProducts', by: ['itemId'] },
      'what else a batch gives',
      [
        named('by_product', 'items', { field: 'itemId', needed: true }),
        number('quantity', { needed: true }),
        unit('unit', { needed: true }),
        number('share_percent', { empty: '0' }),
      ],
      ['items'],
    ),
    numbered: 'revision',
  },
  'bill-steps': {
    ...list(
      'bill-steps',
      { kind: 'bills', key: 'item', field: 'steps', by: ['position'] },
      'what is done at the bench, step by step',
      [number('position', { needed: true }), text('text', { needed: true, empty: undefined })],
      ['items'],
    ),
    numbered: 'revision',
  },
  'break-downs': {
    ...list(
      'break-downs',
      { kind: 'break-downs', key: 'item', field: 'outputs', by: ['itemId'] },
      'how bulk goods break down, a line for each output',
      [
        ofHead(number('take', { empty: '1' })),
        ofHead(unit('unit', { needed: true })),
        named('output', 'items', { field: 'itemId', needed: true }),
        number('gives', { field: 'quantity', needed: true }),
        renamed(unit('output_unit', { needed: true }), 'unit'),
        number('share', { empty: '1' }),
        ofHead(number('loss', { empty: '0' })),
        ofHead(unit('loss_unit', { empty: null })),
        ofHead(yesNo('loss_written_off')),
        ofHead(yesNo('on_arrival')),
        ofHead(text('note')),
      ],
      ['items'],
    ),
    numbered: 'rank',
  },
  links: list('links', { kind: 'items', key: 'item', field: 'links', by: ['url'] }, 'data sheets and the like', [
    text('title'),
    text('url', { needed: true, empty: undefined }),
  ]),
}

/** All columns of a table, the one that names the definition first. */
export const columnsOf = (table: Table): readonly Column[] =>
  table.list
    ? [
        text(table.key, { needed: true, empty: undefined }),
        ...(table.numbered ? [number(table.numbered, { empty: undefined })] : []),
        ...table.columns,
      ]
    : table.columns
