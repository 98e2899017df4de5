import { sql } from 'drizzle-orm'
import { compareLists } from '~~/core/structure'
import { ratio, toDecimal } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { CostBasis } from '~~/shared/structure/words'
import type { Comparison, MoneyParts } from '~~/shared/structure/answers'
import { loadBills } from './bill-store'
import { loadPartStructure, moneyOf } from './questions'

/** Two revisions side by side: what was added, removed and changed, and what it does to the cost of one. */
export async function compareBills(
  beforeId: number,
  afterId: number,
  basis: CostBasis,
  today: string,
): Promise<Comparison> {
  const found = await loadBills(db, [beforeId, afterId])
  const [before, after] = [found.find((bill) => bill.id === beforeId), found.find((bill) => bill.id === afterId)]
  if (!before || !after) {
    throw new Refusal('not-found', 'There is no such revision.')
  }
  if (before.itemId !== after.itemId) {
    throw new Refusal('invalid-input', 'Choose two revisions of the same item.')
  }
  const costOf = async (id: number): Promise<MoneyParts & { lines: Map<number, string> }> => {
    const structure = await loadPartStructure(today, { below: [before.itemId] }, [id])
    const costed = structure.costed(before.itemId, ratio(1), basis)
    return {
      ...moneyOf(costed.cost, ratio(1)),
      lines: new Map(costed.rows.map((row) => [row.itemId, toDecimal(row.money.total, 4)])),
    }
  }
  const [was, is] = [await costOf(beforeId), await costOf(afterId)]
  const names = new Map(
    (
      await rows<{ id: number; code: string; name: string }>(
        db,
        sql`
          select id, code, name
          from items
          where id in (select item_id from bom_lines where bom_id in (${beforeId}, ${afterId}))`,
      )
    ).map((row) => [row.id, row]),
  )
  const HEAD = [
    ['batchSize', 'batch'],
    ['batchUnit', 'batch unit'],
    ['yieldPercent', 'output yield, %'],
    ['workMinutes', 'minutes a batch'],
    ['minutesPerUnit', 'minutes for one'],
    ['workRate', 'rate an hour'],
    ['otherCost', 'other cost a batch'],
    ['note', 'note'],
  ] as const
  const strip = (cost: typeof was): MoneyParts => ({
    material: cost.material,
    work: cost.work,
    other: cost.other,
    total: cost.total,
  })
  return {
    before: { id: before.id, revision: before.revision, fromOn: before.fromOn, cost: strip(was) },
    after: { id: after.id, revision: after.revision, fromOn: after.fromOn, cost: strip(is) },
    difference: toDecimal(ratio(is.total).sub(ratio(was.total)), 2),
    head: HEAD.filter(([field]) => before[field] !== after[field]).map(([field, name]) => ({
      name,
      before: before[field],
      after: after[field],
    })),
    lines: compareLists(before.lines, after.lines, (line) => String(line.itemId), [
      'quantity',
      'unit',
      'basis',
      'scrapPercent',
      'offsetDays',
      'phantom',
      'note',
      'substitutes',
    ]).map((row) => {
      const item = names.get((row.after ?? row.before)!.itemId)!
      const said = (line: typeof row.before) =>
        line && {
          quantity: line.quantity,
          unit: line.unit,
          basis: line.basis,
          scrapPercent: line.scrapPercent,
          offsetDays: line.offsetDays,
          phantom: line.phantom,
          note: line.note,
          substitutes: line.substitutes.length,
        }
      return {
        kind: row.kind,
        itemId: item.id,
        code: item.code,
        name: item.name,
        fields: row.fields,
        before: said(row.before),
        after: said(row.after),
        costBefore: row.before ? (was.lines.get(item.id) ?? '0') : null,
        costAfter: row.after ? (is.lines.get(item.id) ?? '0') : null,
      }
    }),
  }
}
