import { amountOf } from './compile-input'
import type { PlanNode } from './input'

/** What making, breaking down or moving so much of a node asks of others, in whole steps, each rounded up once. Throws beyond 2^53. */
export function needsOf({ id, source }: PlanNode, quantity: number): readonly { readonly node: string, readonly quantity: number }[] {
  if (source.kind === 'make') return source.components.map(c => ({ node: c.node, quantity: amountOf({ kind: 'per', numerator: Number(c.numerator), fixed: Number(c.fixedNumerator), denominator: Number(c.denominator) }, quantity) })).filter(need => need.quantity > 0)
  if (source.kind === 'break down') return [{ node: source.from, quantity: amountOf({ kind: 'runs', numerator: source.take, fixed: 0, denominator: source.outputs.find(output => output.node === id)!.quantity }, quantity) }]
  return source.kind === 'move' ? [{ node: source.from, quantity }] : []
}
