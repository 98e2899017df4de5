import type { WorkDays } from '../compile'
import type { PlanNode } from '../input'
import { sizingOf, type NetPlan } from '../netting'
import type { PlannedOrder } from './output'

/** How a node is ordered: its calendar, lead days and sizes; no calendar and no sizes where it has no source. */
export interface OrderTerms {
  readonly kind: PlannedOrder['kind']
  readonly isPassThrough: boolean
  readonly days: WorkDays | null
  readonly leadDays: number
  readonly sizing: ReturnType<typeof sizingOf> | null
  readonly multiple: number
}
export function termsOf({ compiled }: NetPlan, { id, source }: PlanNode): OrderTerms {
  if (source.kind === 'none') {
    return { kind: 'buy', isPassThrough: false, days: null, leadDays: 0, sizing: null, multiple: 1 }
  }
  const isPassThrough = source.kind === 'make' && source.isPassThrough === true
  const sizing = sizingOf(source, id)
  return {
    kind: source.kind,
    isPassThrough,
    days: compiled.daysOf(isPassThrough ? null : source.calendar),
    leadDays: isPassThrough ? 0 : source.leadDays,
    sizing,
    multiple: Number(BigInt(sizing.multiple.numerator)) / Number(BigInt(sizing.multiple.denominator)),
  }
}
