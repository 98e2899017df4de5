import type { PlanNode } from '../input'
import { amountAt, perOf } from './link-table'

/**
 * What one order for so much of a node asks of others, so many working days after its release: whole steps, each
 * rounded up once. Throws beyond 2^53.
 */
export function needsOf(
  { id, source }: PlanNode,
  quantity: number,
): readonly { readonly node: string; readonly quantity: number; readonly offsetDays: number }[] {
  if (source.kind === 'make') {
    return source.components
      .map((c) => {
        const { numerator, fixed, denominator, exact } = perOf(c)
        const needed = amountAt(false, numerator, fixed, denominator, quantity, exact)
        return { node: c.node, quantity: needed, offsetDays: c.offsetDays ?? 0 }
      })
      .filter((need) => need.quantity > 0)
  }
  if (source.kind === 'break down') {
    return [
      {
        node: source.from,
        offsetDays: 0,
        quantity: amountAt(
          true,
          source.take,
          0,
          source.outputs.find((output) => output.node === id)!.quantity,
          quantity,
        ),
      },
    ]
  }
  return source.kind === 'move' ? [{ node: source.from, quantity, offsetDays: 0 }] : []
}
