import type { PlanNode } from '../input'
import { amountAt, perOf } from './link-table'

/** What making, breaking down or moving so much of a node asks of others, in whole steps, each rounded up once. Throws beyond 2^53. */
export function needsOf(
  { id, source }: PlanNode,
  quantity: number,
): readonly { readonly node: string; readonly quantity: number }[] {
  if (source.kind === 'make') {
    return source.components
      .map((c) => {
        const { numerator, fixed, denominator, exact } = perOf(c)
        return { node: c.node, quantity: amountAt(false, numerator, fixed, denominator, quantity, exact) }
      })
      .filter((need) => need.quantity > 0)
  }
  if (source.kind === 'break down') {
    return [
      {
        node: source.from,
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
  return source.kind === 'move' ? [{ node: source.from, quantity }] : []
}
