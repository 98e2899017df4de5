import { sql, type SQL } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { rows, type Reader } from '~~/server/database/client'
import { findUnit } from '~~/core/units/quantity'
import { unitOf } from '~~/shared/catalogue/measure'
import { DEFINITION_NAMES, type DefinitionKind } from '~~/shared/catalogue/words'
import { loadUnits } from '../measured-items'
import { CellFault } from './cell-fault'

const TABLES = {
  items: ['items', 'code'],
  groups: ['item_groups', 'code'],
  suppliers: ['suppliers', 'code'],
  customers: ['customers', 'code'],
  routes: ['routes', 'code'],
  'price-lists': ['price_lists', 'code'],
  sites: ['sites', 'code'],
  bins: ['places', 'code'],
  calendars: ['calendars', 'name'],
  currencies: ['currencies', 'code'],
  units: ['units', 'code'],
  bills: ['boms', 'name'],
  'break-downs': ['recipes', 'name'],
} as const

/** Codes and ids of everything that a file can name; letter case does not matter where it does not tell two apart. */
export interface Names {
  idOf(kind: DefinitionKind, code: string): number | undefined
  codeOf(kind: DefinitionKind, id: number): string
  wordFor(kind: DefinitionKind): string
  /** The code of a unit by its code, symbol, name or plural. */
  unitOf(word: string): string | undefined
  /** The definition of an item that a line with this number, or with none, is about. */
  numbered(kind: DefinitionKind, item: string, number: string): Numbered
}

/** `copyOf`: what a new one begins as. */
export interface Numbered {
  readonly key: string
  readonly itemId: number
  readonly number: number
  readonly copyOf: number | null
  readonly makingUnit: string
}
interface Known {
  readonly itemId: number
  readonly id: number
  readonly number: number
  readonly open: boolean
}

/** Codes and ids of these kinds as they are now. Cost: a statement a kind. */
export async function loadNames(reader: Reader, kinds: readonly DefinitionKind[]): Promise<Names> {
  const ids = new Map<string, Map<string, number>>()
  const codes = new Map<string, Map<number, string>>()
  for (const kind of new Set(kinds)) {
    const [table, key] = TABLES[kind]
    const found = await rows<{ id: number; code: string }>(
      reader,
      sql`select id, ${sql.identifier(key)} as code from ${sql.identifier(table)}`,
    )
    codes.set(kind, new Map(found.map((row) => [row.id, row.code])))
    // As it is written goes before what only the letter case tells apart.
    const lower = found.map((row): [string, number] => [row.code.toLowerCase(), row.id])
    ids.set(kind, new Map([...lower, ...found.map((row): [string, number] => [row.code, row.id])]))
  }
  const units = new Map((await loadUnits(reader)).map((row) => [row.code, unitOf(row)]))
  const numbering = await loadNumbering(reader, kinds)
  const idOf = (kind: DefinitionKind, code: string): number | undefined =>
    ids.get(kind)?.get(code) ?? ids.get(kind)?.get(code.toLowerCase())
  return {
    unitOf: (word) => units.get(word)?.code ?? findUnit(units, word)?.code,
    idOf,
    codeOf: (kind, id) => codes.get(kind)?.get(id) ?? '',
    numbered(kind, item, number) {
      const itemId = idOf('items', item)
      if (itemId === undefined) {
        throw new CellFault(`There is no item “${item}”.`)
      }
      return numberedOf(kind, { itemId, code: codes.get('items')!.get(itemId)! }, number, numbering)
    },
    wordFor: (kind) => DEFINITION_NAMES[kind],
  }
}

/** Revisions and break-downs by their items, the latest last; and the units that items are made in. */
interface Numbering {
  readonly known: ReadonlyMap<string, ReadonlyMap<number, readonly Known[]>>
  readonly makingUnits: ReadonlyMap<number, string>
}
async function loadNumbering(reader: Reader, kinds: readonly DefinitionKind[]): Promise<Numbering> {
  const known = new Map<string, Map<number, Known[]>>()
  const read = async (kind: DefinitionKind, query: SQL): Promise<void> => {
    if (kinds.includes(kind)) {
      known.set(
        kind,
        groupBy(await rows<Known>(reader, query), (row) => row.itemId),
      )
    }
  }
  await read(
    'bills',
    sql`select item_id as "itemId", id, revision as number, from_on is null as open from boms order by revision`,
  )
  await read(
    'break-downs',
    sql`select item_id as "itemId", id, rank as number, true as open from recipes order by rank desc`,
  )
  const items =
    known.size > 0
      ? await rows<{ id: number; unit: string }>(reader, sql`select id, making_unit as unit from items`)
      : []
  return { known, makingUnits: new Map(items.map((row) => [row.id, row.unit])) }
}

/** What a line is about: the one of this number; without one that which is open, else the next. */
function numberedOf(
  kind: DefinitionKind,
  item: { itemId: number; code: string },
  number: string,
  { known, makingUnits }: Numbering,
): Numbered {
  const word = kind === 'bills' ? 'revision' : 'break-down'
  if (number !== '' && !/^[1-9]\d{0,5}$/.test(number)) {
    throw new CellFault(`“${number}” is no number of a ${word}.`)
  }
  const there = known.get(kind)?.get(item.itemId) ?? []
  const last = there.at(-1)
  const open = there.findLast((entry) => entry.open)
  const next = open?.number ?? (last?.number ?? 0) + 1
  const settled = number === '' ? next : Number(number)
  return {
    key: `${item.code} ${word} ${settled}`,
    itemId: item.itemId,
    number: settled,
    copyOf: number === '' && !open ? (last?.id ?? null) : null,
    makingUnit: makingUnits.get(item.itemId)!,
  }
}
