import { asc, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { ratio, toText } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { bomByProducts, bomLines, boms, bomSubstitutes } from '~~/server/database/schema'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import { exactText, splitText, type Edit, type Row, type DefinitionStore } from '../catalogue/definitions/store'
import { columnsOf } from '../catalogue/definitions/simple-stores'
import { check } from './bill-check'

/** A revision of a bill of materials with its lines, substitutes, by-products and steps. */
export const billStore: DefinitionStore<'bills'> = {
  kind: 'bills',
  table: 'boms',
  key: 'name',
  keyField: 'revision',
  lists: { bom_lines: 'bom_id', bom_substitutes: 'bom_id', bom_by_products: 'bom_id' },
  load: loadBills,
  rowsOf,
  complete,
  check,
}

const toPercent = (share: string): string => toText(ratio(share).mul(100))

const toShare = (percent: string): string => toText(ratio(percent).div(100))

export async function loadBills(reader: Reader, ids: readonly number[] | 'all'): Promise<Stored<'bills'>[]> {
  const isAmong = (column: { getSQL(): ReturnType<typeof sql> }) =>
    ids === 'all' ? undefined : anyOf(sql`${column}`, ids)
  const own = await reader.select().from(boms).where(isAmong(boms.id)).orderBy(asc(boms.id))
  const lines = groupBy(
    await reader.select().from(bomLines).where(isAmong(bomLines.bomId)).orderBy(asc(bomLines.position)),
    (line) => line.bomId,
  )
  const substitutes = groupBy(
    await reader
      .select()
      .from(bomSubstitutes)
      .where(isAmong(bomSubstitutes.bomId))
      .orderBy(asc(bomSubstitutes.rank), asc(bomSubstitutes.id)),
    (entry) => `${entry.bomId} ${entry.position}`,
  )
  const byProducts = groupBy(
    await reader.select().from(bomByProducts).where(isAmong(bomByProducts.bomId)).orderBy(asc(bomByProducts.id)),
    (entry) => entry.bomId,
  )
  return own.map(({ outputYield, ...bill }) => ({
    ...bill,
    yieldPercent: toPercent(outputYield),
    lines: (lines.get(bill.id) ?? []).map(
      ({ position, itemId, numerator, denominator, unit, basis, scrap, offsetDays, phantom, note }) => ({
        position,
        itemId,
        quantity: exactText(numerator, denominator),
        unit,
        basis: basis as 'per batch' | 'per build',
        scrapPercent: toPercent(scrap),
        offsetDays,
        phantom,
        note,
        substitutes: (substitutes.get(`${bill.id} ${position}`) ?? []).map((entry) => ({
          itemId: entry.itemId,
          rank: entry.rank,
          per: exactText(entry.numerator, entry.denominator),
        })),
      }),
    ),
    byProducts: (byProducts.get(bill.id) ?? []).map((entry) => ({
      itemId: entry.itemId,
      quantity: exactText(entry.numerator, entry.denominator),
      unit: entry.unit,
      sharePercent: toPercent(entry.share),
    })),
    steps: bill.steps.map((step, index) => ({ ...step, position: index + 1 })),
  }))
}

function rowsOf({ lines, byProducts, yieldPercent, ...own }: Definition<'bills'>): {
  own: Row
  lists: Record<string, Row[]>
} {
  return {
    own: { ...columnsOf(own), output_yield: toShare(yieldPercent) },
    lists: {
      bom_lines: lines.map(({ quantity, scrapPercent, substitutes, ...line }) => {
        void substitutes
        return { ...columnsOf(line), ...splitText(quantity), scrap: toShare(scrapPercent) }
      }),
      bom_substitutes: lines.flatMap((line) =>
        line.substitutes.map((substitute) => ({
          position: line.position,
          item_id: substitute.itemId,
          rank: substitute.rank,
          ...splitText(substitute.per),
        })),
      ),
      bom_by_products: byProducts.map((byProduct) => ({
        item_id: byProduct.itemId,
        ...splitText(byProduct.quantity),
        unit: byProduct.unit,
        share: toShare(byProduct.sharePercent),
      })),
    },
  }
}

/** Names a bill by its item's code and its revision; a new one gets the next number. */
async function complete(tx: Tx, edits: readonly Edit<'bills'>[]): Promise<Edit<'bills'>[]> {
  const ids = [...new Set(edits.map((edit) => edit.definition.itemId))]
  if (ids.length === 0) {
    return []
  }
  const known = new Map(
    (
      await rows<{ id: number; code: string; last: number }>(
        tx,
        sql`
          select i.id, i.code, coalesce(max(b.revision), 0) as last
          from items i
          left join boms b on b.item_id = i.id
          where ${anyOf(sql`i.id`, ids)}
          group by i.id`,
      )
    ).map((row) => [row.id, row]),
  )
  const given = groupBy(edits, (edit) => edit.definition.itemId)
  const last = new Map(
    [...known].map(([id, row]) => [
      id,
      Math.max(row.last, ...(given.get(id) ?? []).map((edit) => edit.definition.revision)),
    ]),
  )
  return edits.map((edit) => {
    const { itemId } = edit.definition
    const revision = edit.definition.revision || (last.get(itemId) ?? 0) + 1
    last.set(itemId, Math.max(last.get(itemId) ?? 0, revision))
    return {
      ...edit,
      definition: { ...edit.definition, revision, name: `${known.get(itemId)?.code ?? itemId} revision ${revision}` },
    }
  })
}
