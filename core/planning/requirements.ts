import type { PlanNode } from './input'
import type { PlannedOrder } from './output'

interface Amount { readonly node: string, readonly quantity: number }

/**
 * What a planned order asks of other nodes on its release day, and what it gives them on its due day.
 *
 * Each component's need is rounded up to the next finest step once, for the whole order.
 * Errors: throws where a need leaves the range in which a whole number is exact (2^53 steps).
 */
export function requirementsOf(order: PlannedOrder, node: PlanNode): { readonly needs: readonly Amount[], readonly byProducts: readonly Amount[] } {
  const { source } = node
  if (source.kind === 'make') {
    const needs = source.components.map(component => ({ node: component.node, quantity: upToStep(order.quantity, component) }))
    return { needs: needs.filter(need => need.quantity > 0), byProducts: [] }
  }
  if (source.kind === 'break down') {
    const own = source.outputs.find(output => output.node === node.id)!
    const times = Math.ceil(order.quantity / own.quantity)
    const byProducts = source.outputs.filter(output => output.node !== node.id).map(output => ({ node: output.node, quantity: output.quantity * times }))
    return { needs: [{ node: source.from, quantity: source.take * times }], byProducts }
  }
  return { needs: [], byProducts: [] }
}

function upToStep(quantity: number, ratio: { readonly numerator: string, readonly fixedNumerator: string, readonly denominator: string }): number {
  const d = BigInt(ratio.denominator)
  const steps = Number((BigInt(quantity) * BigInt(ratio.numerator) + BigInt(ratio.fixedNumerator) + d - 1n) / d)
  if (!Number.isSafeInteger(steps)) throw new Error('A requirement is beyond 2^53 finest steps')
  return steps
}
