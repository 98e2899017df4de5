import { asc, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import type { Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import {
  itemCodes,
  itemStockLevels,
  itemPrices,
  itemRelations,
  items,
  itemSubstitutes,
  supplierTerms,
} from '~~/server/database/schema'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import { checkItems } from './item-check'
import { inheritInto } from './inherit'
import { exactText, splitText, type Row, type DefinitionStore } from './store'
import { columnsOf } from './simple-stores'
import { effectsOfUnits } from './unit-effects'

/** An item with all that is stated of it: packs, codes, terms, prices, marks, substitutes. */
export const itemStore: DefinitionStore<'items'> = {
  kind: 'items',
  table: 'items',
  key: 'code',
  lists: {
    item_relations: 'item_id',
    item_codes: 'item_id',
    supplier_terms: 'item_id',
    item_prices: 'item_id',
    item_marks: 'item_id',
    item_substitutes: 'item_id',
  },
  load: loadItems,
  rowsOf: itemRows,
  complete: inheritInto,
  check: checkItems,
  effects: effectsOfUnits,
}

export async function loadItems(reader: Reader, ids: readonly number[] | 'all'): Promise<Stored<'items'>[]> {
  const isAmong = (column: { getSQL(): ReturnType<typeof sql> }) =>
    ids === 'all' ? undefined : anyOf(sql`${column}`, ids)
  const own = await reader.select().from(items).where(isAmong(items.id)).orderBy(asc(items.id))
  const byItem = <T extends { itemId: number }, D>(list: T[], report: (row: T) => D): Map<number, D[]> =>
    new Map([...groupBy(list, (row) => row.itemId)].map(([id, rows]) => [id, rows.map(report)]))
  const relations = byItem(
    await reader
      .select()
      .from(itemRelations)
      .where(isAmong(itemRelations.itemId))
      .orderBy(asc(itemRelations.unit), asc(itemRelations.ofUnit)),
    (r) => ({ unit: r.unit, per: exactText(r.numerator, r.denominator), ofUnit: r.ofUnit }),
  )
  const codes = byItem(
    await reader.select().from(itemCodes).where(isAmong(itemCodes.itemId)).orderBy(asc(itemCodes.id)),
    (c) => ({ code: c.code, kind: c.kind as 'barcode' | 'code', unit: c.unit, whose: c.whose }),
  )
  const terms = byItem(
    await reader
      .select()
      .from(supplierTerms)
      .where(isAmong(supplierTerms.itemId))
      .orderBy(asc(supplierTerms.rank), asc(supplierTerms.id)),
    ({ id, itemId, ...t }) => {
      void [id, itemId]
      return t
    },
  )
  const prices = byItem(
    await reader.select().from(itemPrices).where(isAmong(itemPrices.itemId)).orderBy(asc(itemPrices.id)),
    ({ id, itemId, ...p }) => {
      void [id, itemId]
      return p
    },
  )
  const marks = byItem(
    await reader.select().from(itemStockLevels).where(isAmong(itemStockLevels.itemId)).orderBy(asc(itemStockLevels.id)),
    ({ id, itemId, ...m }) => {
      void [id, itemId]
      return m
    },
  )
  const substitutes = byItem(
    await reader
      .select()
      .from(itemSubstitutes)
      .where(isAmong(itemSubstitutes.itemId))
      .orderBy(asc(itemSubstitutes.rank), asc(itemSubstitutes.substituteId)),
    (s) => ({ itemId: s.substituteId, rank: s.rank, per: exactText(s.numerator, s.denominator), bothWays: s.bothWays }),
  )
  return own.map(
    (item) =>
      ({
        ...item,
        relations: relations.get(item.id) ?? [],
        codes: codes.get(item.id) ?? [],
        terms: terms.get(item.id) ?? [],
        prices: prices.get(item.id) ?? [],
        marks: marks.get(item.id) ?? [],
        substitutes: substitutes.get(item.id) ?? [],
      }) as Stored<'items'>,
  )
}

function itemRows(item: Definition<'items'>): { own: Row; lists: Record<string, Row[]> } {
  const { relations, codes, terms, prices, marks, substitutes, ...own } = item
  return {
    own: columnsOf(own),
    lists: {
      item_relations: relations.map((r) => ({ unit: r.unit, of_unit: r.ofUnit, ...splitText(r.per) })),
      item_codes: codes.map(columnsOf),
      supplier_terms: terms.map(columnsOf),
      item_prices: prices.map(columnsOf),
      item_marks: marks.map(columnsOf),
      item_substitutes: substitutes.map((s) => ({
        substitute_id: s.itemId,
        rank: s.rank,
        both_ways: s.bothWays,
        ...splitText(s.per),
      })),
    },
  }
}
