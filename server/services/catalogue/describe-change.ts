import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { ITEM_FIELDS } from '~~/shared/catalogue/item'

import { isSame } from './definitions/is-same'

type Fields = Readonly<Record<string, unknown>>
interface Change {
  readonly before: Fields | null
  readonly after: Fields | null
}

/** Which table the number in a field points into. */
const POINTS: Readonly<Record<string, string>> = {
  groupId: 'item_groups',
  parentId: 'item_groups',
  supplierId: 'suppliers',
  customerId: 'customers',
  priceListId: 'price_lists',
  siteId: 'sites',
  fromSiteId: 'sites',
  itemId: 'items',
  calendarId: 'calendars',
  currencyId: 'currencies',
}

/** Fields in the words of the pages, where their name in the program is not that already. */
const WORDS: Readonly<Record<string, string>> = {
  name2: 'name in the second language',
  per: 'ratio',
  relations: 'packs and bridges',
  terms: 'suppliers’ terms',
  marks: 'stock marks',
  inherited: 'taken from the group',
  fromSiteId: 'comes from',
  pictureId: 'picture',
  numberPattern: 'numbering',
  rec20: 'UN/ECE code',
  finestStep: 'finest step',
  closed: 'closed days',
  fromOn: 'in use from',
  yieldPercent: 'output yield',
  workMinutes: 'minutes a batch',
  workRate: 'rate an hour',
  batchSize: 'batch',
  scrapPercent: 'scrap',
  sharePercent: 'share of the cost',
  byProducts: 'by-products',
  offsetDays: 'days after the start',
  kitPolicy: 'shipped',
  standardCost: 'standard cost',
  onArrival: 'on arrival',
  lossWrittenOff: 'loss written off',
}
const WEEK = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']

export type Names = ReadonlyMap<string, string>

/** The names of everything that changes point at, by table and number. */
export async function loadNames(reader: Reader, changes: readonly Change[]): Promise<Names> {
  const asked = new Map<string, Set<number>>()
  const collect = (value: unknown, field: string): void => {
    const table = POINTS[field]
    if (Array.isArray(value)) {
      value.forEach((entry) => collect(entry, ''))
    } else if (typeof value === 'object' && value !== null) {
      Object.entries(value).forEach(([name, entry]) => collect(entry, name))
    } else if (table && typeof value === 'number') {
      asked.set(table, (asked.get(table) ?? new Set()).add(value))
    }
  }
  for (const change of changes) {
    collect(change.before, '')
    collect(change.after, '')
  }
  const names = new Map<string, string>()
  for (const [table, ids] of asked) {
    for (const row of await rows<{ id: number; name: string }>(
      reader,
      sql`
        select
          id,
          ${sql.identifier(table === 'calendars' || table === 'suppliers' || table === 'customers' ? 'name' : 'code')} as name
        from ${sql.identifier(table)}
        where ${anyOf(sql`id`, [...ids])}`,
    )) {
      names.set(`${table} ${row.id}`, row.name)
    }
  }
  return names
}

const inWords = (field: string): string =>
  WORDS[field] ?? field.replace(/Id$/, '').replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)

/** What a change did, field by field, before → after; of a list, the entries that went and came. */
export function describeChange(
  { before, after }: Change,
  names: Names,
): { field: string; before: string; after: string }[] {
  if (before === null || after === null) {
    return []
  }
  return Object.keys({ ...before, ...after })
    .filter((field) => field !== 'version' && !isSame(before[field], after[field]))
    .sort((a, b) => place(a) - place(b))
    .map((field) => {
      const [was, is] = [before[field], after[field]]
      if (!Array.isArray(was) || !Array.isArray(is) || field === 'weekdays') {
        return { field: inWords(field), before: print(was, field, names), after: print(is, field, names) }
      }
      return {
        field: inWords(field),
        before: print(
          was.filter((entry) => !is.some((candidate) => isSame(entry, candidate))),
          field,
          names,
        ),
        after: print(
          is.filter((entry) => !was.some((candidate) => isSame(entry, candidate))),
          field,
          names,
        ),
      }
    })
}

// The database keeps the fields of a note in an order of its own; people read them in that of the page.
const ORDER: readonly string[] = ITEM_FIELDS
const place = (field: string): number => (ORDER.includes(field) ? ORDER.indexOf(field) : ORDER.length)

function print(value: unknown, field: string, names: Names): string {
  if (value === null || value === undefined || value === '') {
    return 'nothing'
  }
  if (field === 'weekdays' && Array.isArray(value)) {
    return WEEK.filter((_, index) => value[index]).join(' ')
  }
  if (Array.isArray(value)) {
    return value.length === 0 ? 'nothing' : value.map((entry) => print(entry, '', names)).join('; ')
  }
  if (typeof value === 'object') {
    return Object.entries(value)
      .filter(
        ([, entry]) =>
          entry !== null && entry !== '' && entry !== false && !(Array.isArray(entry) && entry.length === 0),
      )
      .map(([name, entry]) => `${inWords(name)} ${print(entry, name, names)}`)
      .join(', ')
  }
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no'
  }
  const table = POINTS[field]
  return table && typeof value === 'number' ? (names.get(`${table} ${value}`) ?? `no. ${value}`) : String(value)
}
