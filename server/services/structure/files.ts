import type { Reader } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { loadMeasuredItem } from '../catalogue/measured-items'
import { sheetFile } from '../catalogue/tables/write-file'
import { loadBills } from './bill-store'
import { loadStructure } from './load-structure'
import type {
  BuildableAnswer,
  BuildableUse,
  Comparison,
  Explosion,
  ItemFacts,
  WhereUsedRow,
} from '~~/shared/structure/answers'

type Format = 'csv' | 'xlsx'

/** An explosion as lines, its levels as numbers. */
export const explosionFile = (answer: Explosion, format: Format): Promise<string | Buffer> =>
  sheetFile(
    answer.code,
    [
      'level',
      'item',
      'name',
      'quantity',
      'unit',
      'free',
      'missing',
      'material',
      'work',
      'other',
      'cost',
      'cost_of_one',
    ],
    [
      [
        '0',
        answer.code,
        answer.name,
        answer.quantity,
        answer.symbol,
        '',
        '',
        answer.cost.material,
        answer.cost.work,
        answer.cost.other,
        answer.cost.total,
        '',
      ],
      ...answer.rows.map((row) => [
        String(row.level),
        row.code,
        row.name,
        row.quantity,
        row.symbol,
        row.free,
        row.isShort ? 'yes' : '',
        row.cost.material,
        row.cost.work,
        row.cost.other,
        row.cost.total,
        row.unitCost,
      ]),
    ],
    format,
  )

export const whereUsedFile = (rows: readonly WhereUsedRow[], format: Format): Promise<string | Buffer> =>
  sheetFile(
    'where used',
    ['level', 'item', 'name', 'takes', 'unit', 'for_one'],
    rows.map((row) => [String(row.level), row.code, row.name, row.quantity, row.symbol, row.parentSymbol]),
    format,
  )

export function buildableFile(answer: BuildableAnswer, format: Format): Promise<string | Buffer> {
  const line = (kind: string, use: BuildableUse): string[] => [
    kind,
    use.code,
    use.name,
    use.need,
    use.fromStock,
    use.made,
    use.missing,
    use.symbol,
  ]
  return sheetFile(
    'buildable now',
    ['part', 'item', 'name', 'need', 'from_stock', 'made', 'missing', 'unit'],
    [
      ...answer.wanted.map((cut) => ['can be made', cut.code, '', cut.can, '', '', '', cut.symbol]),
      ...answer.uses.map((use) => line('takes', use)),
      ...answer.next.map((use) => line('next lacks', use)),
    ],
    format,
  )
}

export function comparisonFile(answer: Comparison, format: Format): Promise<string | Buffer> {
  return sheetFile(
    'revisions',
    ['change', 'item', 'name', 'before', 'after', 'cost_before', 'cost_after'],
    [
      ...answer.head.map((row) => ['changed', '', row.name, row.before, row.after, '', '']),
      ...answer.lines.map((row) => [
        row.kind,
        row.code,
        row.name,
        row.before ? `${row.before.quantity} ${row.before.unit}` : '',
        row.after ? `${row.after.quantity} ${row.after.unit}` : '',
        row.costBefore ?? '',
        row.costAfter ?? '',
      ]),
      ['cost of one', '', '', '', '', answer.before.cost.total, answer.after.cost.total],
    ],
    format,
  )
}

/** A bill by levels as it is written, each quantity for the batch of what it goes into; it reads back as it is. */
export async function indentedFile(
  reader: Reader,
  itemId: number,
  today: string,
  format: Format,
): Promise<{ name: string; content: string | Buffer }> {
  await loadMeasuredItem(reader, itemId)
  const loaded = await loadStructure(reader, today, { below: [itemId] })
  const bills = new Map(
    (
      await loadBills(
        reader,
        [...loaded.boms.values()].map((head) => head.id),
      )
    ).map((bill) => [bill.itemId, bill]),
  )
  const code = (id: number): string => loaded.items.get(id)!.code
  const lines: string[][] = []
  const write = (id: number, level: number, cells: readonly string[]): void => {
    const bill = bills.get(id)
    lines.push([
      String(level),
      code(id),
      loaded.items.get(id)!.name,
      cells[0] ?? '',
      cells[1] ?? '',
      bill?.batchSize ?? '',
      bill?.batchUnit ?? '',
      ...cells.slice(2),
    ])
    if (lines.length > 50_000) {
      throw new Refusal('invalid-input', 'Written out by levels this has more than 50 000 lines.')
    }
    for (const line of bill?.lines ?? []) {
      write(line.itemId, level + 1, [
        line.quantity,
        line.unit,
        line.basis,
        line.scrapPercent,
        String(line.offsetDays),
        line.phantom ? 'yes' : 'no',
        line.note,
      ])
    }
  }
  write(itemId, 0, [])
  return {
    name: `${code(itemId)} by levels`,
    content: await sheetFile(
      code(itemId),
      [
        'level',
        'item',
        'name',
        'quantity',
        'unit',
        'batch',
        'batch_unit',
        'basis',
        'scrap_percent',
        'offset_days',
        'phantom',
        'note',
      ],
      lines,
      format,
    ),
  }
}

/** The longest way to an item, and what one of it weighs. */
export const factsFile = (facts: ItemFacts, format: Format): Promise<string | Buffer> =>
  sheetFile(
    'lead time and mass',
    ['part', 'item', 'name', 'lead_days', 'begins_days_before', 'ends_days_before', 'kilograms'],
    [
      ...facts.lead.map((step) => [
        'lead time',
        step.code,
        step.name,
        String(step.leadDays),
        String(step.begins),
        String(step.ends),
        '',
      ]),
      ['mass', '', '', '', '', '', facts.mass.known],
      ...facts.mass.unknown.map((item) => ['weight not known', item, '', '', '', '', '']),
    ],
    format,
  )
