import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { rows, type Reader } from '~~/server/database/client'
import { findUnit } from '~~/core/units/quantity'
import { unitOf } from '~~/shared/catalogue/measure'
import { DEFINITION_NAMES, type DefinitionKind } from '~~/shared/catalogue/definitions'
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
    ids.set(
      kind,
      new Map([
        ...found.map((row): [string, number] => [row.code.toLowerCase(), row.id]),
        ...found.map((row): [string, number] => [row.code, row.id]),
      ]),
    )
  }
  const numbers = new Map<string, Map<number, Known[]>>()
  if (kinds.includes('bills')) {
    numbers.set(
      'bills',
      groupBy(
        await rows<Known>(
          reader,
          sql`select item_id as "itemId", id, revision as number, from_on is null as open from boms order by revision`,
        ),
        (row) => row.itemId,
      ),
    )
  }
  if (kinds.includes('break-downs')) {
    numbers.set(
      'break-downs',
      groupBy(
        await rows<Known>(
          reader,
          sql`select item_id as "itemId", id, rank as number, true as open from recipes order by rank desc`,
        ),
        (row) => row.itemId,
      ),
    )
  }
  const making = new Map(
    numbers.size > 0
      ? (await rows<{ id: number; unit: string }>(reader, sql`select id, making_unit as unit from items`)).map(
          (row): [number, string] => [row.id, row.unit],
        )
      : [],
  )
  const units = new Map((await loadUnits(reader)).map((row) => [row.code, unitOf(row)]))
  return {
    unitOf: (word) => units.get(word)?.code ?? findUnit(units, word)?.code,
    idOf: (kind, code) => ids.get(kind)?.get(code) ?? ids.get(kind)?.get(code.toLowerCase()),
    codeOf: (kind, id) => codes.get(kind)?.get(id) ?? '',
    numbered(kind, item, number) {
      const itemId = ids.get('items')?.get(item) ?? ids.get('items')?.get(item.toLowerCase())
      if (itemId === undefined) {
        throw new CellFault(`There is no item “${item}”.`)
      }
      if (number !== '' && !/^[1-9]\d{0,5}$/.test(number)) {
        throw new CellFault(`“${number}” is no number of a ${kind === 'bills' ? 'revision' : 'break-down'}.`)
      }
      const there = numbers.get(kind)?.get(itemId) ?? []
      const last = there.at(-1)
      const open = there.findLast((entry) => entry.open)
      const settled = number !== '' ? Number(number) : (open?.number ?? (last ? last.number + 1 : 1))
      return {
        key: `${codes.get('items')!.get(itemId)!} ${kind === 'bills' ? 'revision' : 'break-down'} ${settled}`,
        itemId,
        number: settled,
        copyOf: number === '' && !open ? (last?.id ?? null) : null,
        makingUnit: making.get(itemId)!,
      }
    },
    wordFor: (kind) => DEFINITION_NAMES[kind],
  }
}
