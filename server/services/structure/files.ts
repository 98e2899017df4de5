import { sheetFile } from '../catalogue/tables/write-file'
import type { BuildableAnswer, BuildableUse, Comparison, Explosion, WhereUsedRow } from '~~/shared/structure-answers'

type Format = 'csv' | 'xlsx'

/** An explosion as lines: levels as numbers, so that it reads back as an indented file. */
export const explosionFile = (answer: Explosion, format: Format): Promise<string | Buffer> => sheetFile(answer.code, ['level', 'item', 'name', 'quantity', 'unit', 'free', 'missing', 'material', 'work', 'other', 'cost', 'cost_of_one'], [
  ['0', answer.code, answer.name, answer.quantity, answer.symbol, '', '', answer.cost.material, answer.cost.work, answer.cost.other, answer.cost.total, ''],
  ...answer.rows.map(row => [String(row.level), row.code, row.name, row.quantity, row.symbol, row.free, row.isShort ? 'yes' : '', row.cost.material, row.cost.work, row.cost.other, row.cost.total, row.unitCost]),
], format)

export const whereUsedFile = (rows: readonly WhereUsedRow[], format: Format): Promise<string | Buffer> => sheetFile('where used', ['level', 'item', 'name', 'takes', 'unit', 'for_one'], rows.map(row => [String(row.level), row.code, row.name, row.quantity, row.symbol, row.parentSymbol]), format)

export function buildableFile(answer: BuildableAnswer, format: Format): Promise<string | Buffer> {
  const line = (kind: string, use: BuildableUse): string[] => [kind, use.code, use.name, use.need, use.fromStock, use.made, use.missing, use.symbol]
  return sheetFile('buildable now', ['part', 'item', 'name', 'need', 'from_stock', 'made', 'missing', 'unit'], [
    ...answer.wanted.map(one => ['can be made', one.code, '', one.can, '', '', '', one.symbol]), ...answer.uses.map(use => line('takes', use)), ...answer.next.map(use => line('next lacks', use)),
  ], format)
}

export function comparisonFile(answer: Comparison, format: Format): Promise<string | Buffer> {
  return sheetFile('revisions', ['change', 'item', 'name', 'before', 'after', 'cost_before', 'cost_after'], [
    ...answer.head.map(row => ['changed', '', row.name, row.before, row.after, '', '']),
    ...answer.lines.map(row => [row.kind, row.code, row.name, row.before ? `${row.before.quantity} ${row.before.unit}` : '', row.after ? `${row.after.quantity} ${row.after.unit}` : '', row.costBefore ?? '', row.costAfter ?? '']),
    ['cost of one', '', '', '', '', answer.before.cost.total, answer.after.cost.total],
  ], format)
}
