import { ratio, toText } from '~~/core/units/exact'
import { readStockQuantity, typedQuantity } from '~~/core/units/quantity'
import { measureOf } from '~~/shared/catalogue/measure'
import type { MeasuredItem } from '~/composables/ui/use-measure'
import type { ReceiptLine } from './use-receipt-measure'

/** An item as goods in needs it: the one that was ordered, or the one that came instead. */
export interface CameItem {
  readonly itemId: number
  readonly code: string
  readonly tracking: string
  readonly groupId: number
  readonly symbol: string
  readonly shelfLifeDays: number | null
  readonly measured: MeasuredItem
}
/** A line of goods in on which something else may have come. */
export interface SubstitutedRow {
  readonly line: ReceiptLine
  readonly measured: MeasuredItem
  quantity: string
  unit: string
  instead: CameItem | null
  /** How much of what was ordered it counts as, in the line's unit, as it is typed; empty: as much as came. */
  countsAs: string
}
type WholeItem = MeasuredItem & Omit<CameItem, 'itemId' | 'measured' | 'symbol'>

/** What came instead of what was ordered, line by line. */
export function useSubstitutes() {
  const references = useReferences()
  const session = useSession()
  const { asTyped } = usePrint()

  const cameOf = (row: SubstitutedRow): CameItem => row.instead ?? { ...row.line, measured: row.measured }

  async function choose(row: SubstitutedRow, itemId: number): Promise<void> {
    const item = (await fetchMeasured(itemId)) as WholeItem
    const { code, tracking, groupId, shelfLifeDays, stockUnit } = item
    const symbol = references.symbol(stockUnit)
    row.instead = { itemId, code, tracking, groupId, shelfLifeDays, symbol, measured: item }
    row.unit = stockUnit
    row.countsAs = ''
  }
  function drop(row: SubstitutedRow): void {
    row.instead = null
    row.unit = row.line.unit
    row.countsAs = ''
  }
  /** What it counts as where nothing is typed: by the ratio that the catalogue knows, in the line's stock unit. */
  function countedByRatio(row: SubstitutedRow): string | null {
    const known = row.line.substitutes.find(({ itemId }) => itemId === row.instead?.itemId)
    const built = row.instead && measureOf(references.units, row.instead.measured)
    if (!known || !built?.ok || row.quantity.trim() === '') {
      return null
    }
    const read = readStockQuantity(
      typedQuantity(row.quantity),
      row.unit,
      built.value,
      'recorded',
      session.company?.decimalSign,
    )
    return read.ok
      ? `${asTyped(toText(read.value.quantity.mul(ratio(known.per))))} ${references.symbol(row.line.stockUnit)}`
      : null
  }
  /** As it is sent: what is typed, else by the ratio, else as much as came. */
  const countsAs = (row: SubstitutedRow): string => row.countsAs.trim() || countedByRatio(row) || row.quantity

  return { cameOf, choose, drop, countedByRatio, countsAs }
}
