import { ok, refuse, type Result } from '../../result'
import { ratio } from '../../units/exact'

/** The marks of an item, from low to high. */
export const MARKS = ['safetyStock', 'reorderPoint', 'targetStock', 'maximumStock'] as const
export type Mark = (typeof MARKS)[number]

/** The marks of an item, in its stock unit; null where none is set. */
export type StockLevels = Readonly<Record<Mark, string | null>>

/** Marks that count at a site, between two days, or both; what is null in it stays as the item has it. */
export interface MarkRule extends StockLevels {
  readonly siteId: number | null
  readonly fromOn: string | null
  readonly untilOn: string | null
  readonly yearly: boolean
}

export type StockLevelError = {
  readonly code: 'out-of-order'
  readonly lower: Mark
  readonly higher: Mark
  readonly lowerValue: string
  readonly higherValue: string
}

/** Holds safety stock ≤ reorder point ≤ target ≤ maximum; marks that are not set are passed over. */
export function checkStockLevels(stockLevels: StockLevels): Result<StockLevels, StockLevelError> {
  const set = MARKS.filter((mark) => stockLevels[mark] !== null)
  for (const [index, higher] of set.entries()) {
    const lower = set[index - 1]
    if (lower && ratio(stockLevels[lower]!).compare(ratio(stockLevels[higher]!)) > 0) {
      return refuse({
        code: 'out-of-order',
        lower,
        higher,
        lowerValue: stockLevels[lower]!,
        higherValue: stockLevels[higher]!,
      })
    }
  }
  return ok(stockLevels)
}

/** What people call the marks. */
export const MARK_NAMES: Readonly<Record<Mark, string>> = {
  safetyStock: 'safety stock',
  reorderPoint: 'reorder point',
  targetStock: 'target',
  maximumStock: 'maximum',
}

/** Which of two marks is the wrong way round, in a sentence. */
export const describeMarkError = (error: StockLevelError): string =>
  `The ${MARK_NAMES[error.higher]} of ${error.higherValue} lies below the ${MARK_NAMES[error.lower]} of ${error.lowerValue}. From low to high they are: safety stock, reorder point, target, maximum.`

/**
 * The marks that count at a site on a day: the item's own, overlaid by each rule that holds, the general before the
 * particular (season, then site, then both).
 */
export function stockLevelsOn(own: StockLevels, rules: readonly MarkRule[], siteId: number, day: string): StockLevels {
  const weight = (rule: MarkRule): number => (rule.siteId === null ? 0 : 2) + (rule.fromOn === null ? 0 : 1)
  const held = rules
    .filter((rule) => (rule.siteId === null || rule.siteId === siteId) && isInSeason(rule, day))
    .sort((a, b) => weight(a) - weight(b))
  return held.reduce<StockLevels>(
    (stockLevels, rule) =>
      Object.fromEntries(MARKS.map((mark) => [mark, rule[mark] ?? stockLevels[mark]])) as unknown as StockLevels,
    own,
  )
}

/** A yearly season counts by month and day, and may run over the new year. */
function isInSeason({ fromOn, untilOn, yearly }: MarkRule, day: string): boolean {
  if (fromOn === null || untilOn === null || !yearly) {
    return (fromOn === null || fromOn <= day) && (untilOn === null || day <= untilOn)
  }
  const [from, until, index] = [fromOn.slice(5), untilOn.slice(5), day.slice(5)]
  return from <= until ? from <= index && index <= until : from <= index || index <= until
}
