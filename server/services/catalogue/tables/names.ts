import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { findUnit } from '~~/core/units'
import { unitOf } from '~~/shared/catalogue'
import { DEFINITION_NAMES, type DefinitionKind } from '~~/shared/definitions'
import { loadUnits } from '../frames'

const TABLES = { 'items': ['items', 'code'], 'groups': ['item_groups', 'code'], 'suppliers': ['suppliers', 'code'], 'customers': ['customers', 'code'], 'price-lists': ['price_lists', 'code'], 'sites': ['sites', 'code'], 'bins': ['places', 'code'], 'calendars': ['calendars', 'name'], 'currencies': ['currencies', 'code'], 'units': ['units', 'code'] } as const

/** Codes and ids of everything that a file can name; letter case does not matter where it does not tell two apart. */
export interface Names {
  idOf(kind: DefinitionKind, code: string): number | undefined
  codeOf(kind: DefinitionKind, id: number): string
  wordFor(kind: DefinitionKind): string
  /** The code of a unit by its code, symbol, name or plural. */
  unitOf(word: string): string | undefined
}

export async function loadNames(reader: Reader, kinds: readonly DefinitionKind[]): Promise<Names> {
  const ids = new Map<string, Map<string, number>>()
  const codes = new Map<string, Map<number, string>>()
  for (const kind of new Set(kinds)) {
    const [table, key] = TABLES[kind]
    const found = await rows<{ id: number, code: string }>(reader, sql`select id, ${sql.identifier(key)} as code from ${sql.identifier(table)}`)
    codes.set(kind, new Map(found.map(row => [row.id, row.code])))
    ids.set(kind, new Map([...found.map((row): [string, number] => [row.code.toLowerCase(), row.id]), ...found.map((row): [string, number] => [row.code, row.id])]))
  }
  const units = new Map((await loadUnits(reader)).map(row => [row.code, unitOf(row)]))
  return {
    unitOf: word => units.get(word)?.code ?? findUnit(units, word)?.code,
    idOf: (kind, code) => ids.get(kind)?.get(code) ?? ids.get(kind)?.get(code.toLowerCase()),
    codeOf: (kind, id) => codes.get(kind)?.get(id) ?? '',
    wordFor: kind => DEFINITION_NAMES[kind],
  }
}
