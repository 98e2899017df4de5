import { CostPool, emptyPool, type Amounts } from './cost-pool'
import type { RecordedMove, StandardChange } from './histories'
import { inOrder, otherEnd, valueMove } from './value-moves'

/** What happens in a pool: a move, or a new standard cost. */
export type Event = { readonly move: RecordedMove } | { readonly standard: StandardChange }

/** Takes one recorded move through its pool; what lies at its other end stands by as it was recorded. */
export function goThrough(key: string, pool: CostPool, event: Event, known: ReadonlyMap<string, RecordedMove>): void {
  if ('standard' in event) {
    pool.restate(event.standard.unit)
    return
  }
  const move = { ...event.move, stated: otherEnd(event.move.amounts) }
  const farPool = new CostPool({
    ...emptyPool('moving average'),
    quantity: move.quantity,
    value: otherEnd(move.amounts),
  })
  valueMove(move, {
    pool: (end) => (end === key ? pool : farPool),
    amountsOf: (id) => known.get(id)?.amounts ?? move.amounts,
    shareOf: () => otherEnd(move.amounts),
  })
}

export const same = (a: Amounts, b: Amounts): boolean =>
  a.value === b.value && a.variance === b.variance && a.restated === b.restated

/** A new standard counts from the morning on; then the moves of the day. */
export function order(a: Event, b: Event): number {
  const [entry, farPool] = [position(a), position(b)]
  if (entry.day !== farPool.day) {
    return entry.day < farPool.day ? -1 : 1
  }
  if ('standard' in a || 'standard' in b) {
    return Number('standard' in b) - Number('standard' in a) || entry.posting - farPool.posting
  }
  return inOrder(a.move, b.move)
}

const position = (event: Event): { day: string; posting: number } => ('move' in event ? event.move : event.standard)
