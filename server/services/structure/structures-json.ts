import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { StructuresFile } from '~~/shared/structure/structures-file'

import { breakDownStore } from './break-down-store'
import { loadBills } from './bill-store'
import type { Sheet } from '../catalogue/tables/read-file'
import type { TableName } from '~~/shared/catalogue/words'

/** Bills and break-downs, of some items or of all, as docs/formats/structures.schema.json describes them. */
export async function structuresAsJson(reader: Reader, itemIds?: readonly number[]): Promise<StructuresFile> {
  const only = <T extends { itemId: number }>(list: readonly T[]): T[] =>
    list.filter((entry) => !itemIds || itemIds.includes(entry.itemId))
  const bills = only(await loadBills(reader, 'all'))
  const recipes = only(await breakDownStore.load(reader, 'all'))
  const ids = [
    ...new Set([
      ...bills.flatMap((b) => [
        b.itemId,
        ...b.lines.flatMap((l) => [l.itemId, ...l.substitutes.map((s) => s.itemId)]),
        ...b.byProducts.map((p) => p.itemId),
      ]),
      ...recipes.flatMap((w) => [w.itemId, ...w.outputs.map((o) => o.itemId)]),
    ]),
  ]
  const codes = new Map(
    (ids.length === 0
      ? []
      : await rows<{ id: number; code: string }>(reader, sql`select id, code from items where ${anyOf(sql`id`, ids)}`)
    ).map((row) => [row.id, row.code]),
  )
  const code = (id: number): string => codes.get(id)!
  return {
    format: 'tsumiki structures',
    version: 1,
    bills: bills.map((bill) => ({
      item: code(bill.itemId),
      revision: bill.revision,
      from_on: bill.fromOn,
      batch: bill.batchSize,
      unit: bill.batchUnit,
      yield_percent: bill.yieldPercent,
      work_minutes: bill.workMinutes,
      minutes_per_unit: bill.minutesPerUnit,
      work_rate: bill.workRate,
      other_cost: bill.otherCost,
      note: bill.note,
      lines: bill.lines.map((line) => ({
        component: code(line.itemId),
        quantity: line.quantity,
        unit: line.unit,
        basis: line.basis,
        scrap_percent: line.scrapPercent,
        offset_days: line.offsetDays,
        phantom: line.phantom,
        note: line.note,
        substitutes: line.substitutes.map((substitute) => ({
          substitute: code(substitute.itemId),
          rank: substitute.rank,
          ratio: substitute.per,
        })),
      })),
      by_products: bill.byProducts.map((byProduct) => ({
        by_product: code(byProduct.itemId),
        quantity: byProduct.quantity,
        unit: byProduct.unit,
        share_percent: byProduct.sharePercent,
      })),
      steps: bill.steps.map((step) => step.text),
    })),
    break_downs: recipes.map((recipe) => ({
      item: code(recipe.itemId),
      rank: recipe.rank,
      take: recipe.take,
      unit: recipe.unit,
      loss: recipe.loss,
      loss_unit: recipe.lossUnit,
      loss_written_off: recipe.lossWrittenOff,
      on_arrival: recipe.onArrival,
      note: recipe.note,
      outputs: recipe.outputs.map((output) => ({
        output: code(output.itemId),
        gives: output.quantity,
        unit: output.unit,
        share: output.share,
      })),
    })),
  }
}

/** The same as lines of the tables that take structures in; `line` counts the bills or break-downs of the file. */
export function sheetsOfJson(text: string): ReadonlyMap<TableName, Sheet> {
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch {
    throw new Refusal('invalid-input', 'The file is no JSON that can be read.')
  }
  const read = StructuresFile.safeParse(raw)
  if (!read.success) {
    const [issue] = read.error.issues
    throw new Refusal('invalid-input', `${issue!.path.join(' › ') || 'The file'}: ${issue!.message}`)
  }
  const { bills, break_downs: recipes } = read.data
  const cells = (fields: object): Record<string, string> =>
    Object.fromEntries(
      Object.entries(fields).flatMap(([name, value]) =>
        typeof value === 'object' && value !== null ? [] : [[name, cellText(value)]],
      ),
    )
  const lines = bills.flatMap((bill, index) => {
    const head = { item: bill.item, revision: bill.revision === undefined ? '' : String(bill.revision) }
    return [
      { table: 'bills', line: index + 1, cells: { ...cells(bill), ...head } },
      ...bill.lines.flatMap((line, i) => [
        { table: 'bill-lines', line: index + 1, cells: { ...head, position: String(i + 1), ...cells(line) } },
        ...line.substitutes.map((substitute) => ({
          table: 'bill-substitutes',
          line: index + 1,
          cells: { ...head, component: line.component, ...cells(substitute) },
        })),
      ]),
      ...bill.by_products.map((byProduct) => ({
        table: 'by-products',
        line: index + 1,
        cells: { ...head, ...cells(byProduct) },
      })),
      ...bill.steps.map((step, i) => ({
        table: 'bill-steps',
        line: index + 1,
        cells: { ...head, position: String(i + 1), text: step },
      })),
    ]
  })
  const outputs = recipes.flatMap((recipe, index) =>
    recipe.outputs.map((output) => ({
      table: 'break-downs',
      line: index + 1,
      cells: {
        ...cells(recipe),
        output: output.output,
        gives: output.gives,
        output_unit: output.unit,
        share: output.share,
      },
    })),
  )
  return new Map(
    [...groupBy([...lines, ...outputs], (entry) => entry.table as TableName)].map(([table, list]) => [
      table,
      {
        headings: [...new Set(list.flatMap((entry) => Object.keys(entry.cells)))],
        lines: list.map(({ line, cells: own }) => ({ line, cells: own as Record<string, string> })),
      },
    ]),
  )
}

/** A plain value as the files of the catalogue write it. */
function cellText(value: unknown): string {
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no'
  }
  return String(value ?? '')
}
