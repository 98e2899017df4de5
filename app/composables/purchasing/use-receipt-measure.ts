import { convert } from '~~/core/units/graph'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { readStockQuantity, typedQuantity } from '~~/core/units/quantity'
import { measureOf } from '~~/shared/catalogue/measure'

/** A line of a purchase order of which goods are still to come; quantities are decimal text in the stock unit. */
export interface ReceiptLine {
  readonly supplierCode: string
  readonly id: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  /** As it was ordered, in `unit`. */
  readonly entered: string
  readonly unit: string
  readonly quantity: string
  readonly received: string
  readonly closedShort: boolean
  readonly stockUnit: string
  readonly finestStep: string
  readonly symbol: string
  readonly tracking: string
  readonly groupId: number
  readonly shelfLifeDays: number | null
  /** How much more than was ordered is taken in without a reason, in per cent. */
  readonly overDelivery: string
  /** What may come instead: so much of the item one of it stands for. */
  readonly substitutes: readonly { itemId: number; code: string; name: string; per: string }[]
  readonly relations: { unit: string; ofUnit: string; numerator: string; denominator: string }[]
}

/** What a line will have received, and what is left of it or came beyond it; in the stock unit. */
export interface ReceiptChange {
  readonly before: string
  readonly after: string
  readonly left: string
  readonly over: boolean
  /** More than is taken in without a reason. */
  readonly isBeyond: boolean
}

/** How much of a line is to come, and what a typed quantity makes of it. */
export function useReceiptMeasure() {
  const references = useReferences()
  const session = useSession()

  const measured = (line: ReceiptLine) => ({
    id: line.itemId,
    stockUnit: line.stockUnit,
    finestStep: line.finestStep,
    relations: line.relations,
    buyingUnit: line.unit,
  })
  const measureFor = (line: ReceiptLine) => {
    const built = measureOf(references.units, measured(line))
    return built.ok ? built.value : null
  }
  function openIn(line: ReceiptLine, unit: string): string {
    if (line.received === '0' && unit === line.unit) {
      return line.entered
    }
    const left = ratio(line.quantity).sub(ratio(line.received))
    const measure = measureFor(line)
    const inUnit = measure ? convert(measure.graph, left, line.stockUnit, unit) : null
    return left.compare(ZERO) > 0 ? toText(inUnit?.ok ? inUnit.value : left) : '0'
  }
  /** Before → after, against what was ordered; null while nothing that can be read is typed. */
  function change({
    line,
    quantity,
    unit,
  }: {
    line: ReceiptLine
    quantity: string
    unit: string
  }): ReceiptChange | null {
    const measure = measureFor(line)
    const read =
      measure && quantity.trim() !== ''
        ? readStockQuantity(typedQuantity(quantity), unit, measure, 'recorded', session.company?.decimalSign)
        : null
    if (!read?.ok) {
      return null
    }
    const after = ratio(line.received).add(read.value.quantity)
    const left = ratio(line.quantity).sub(after)
    const taken = ratio(line.quantity).mul(ratio(line.overDelivery)).div(ratio(100))
    return {
      before: line.received,
      after: toText(after),
      left: toText(left.abs()),
      over: left.compare(ZERO) < 0,
      isBeyond: left.add(taken).compare(ZERO) < 0,
    }
  }
  return { measured, measureFor, openIn, change }
}
