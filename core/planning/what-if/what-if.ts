import type { Multiple, PlanInput, PlanNode, Source } from '../input'

/** What is tried out. `nodes`: those it is about; null is all. Quantities in whole finest steps. */
export type WhatIf =
  | { readonly kind: 'demand'; readonly nodes: readonly string[] | null; readonly percent: number }
  | { readonly kind: 'more demand'; readonly nodes: readonly string[]; readonly quantity: number; readonly day: string }
  | {
      readonly kind: 'lead time'
      readonly nodes: readonly string[] | null
      readonly supplier: string | null
      readonly days: number
    }
  | { readonly kind: 'supplier out'; readonly supplier: string }
  | {
      readonly kind: 'price'
      readonly nodes: readonly string[] | null
      readonly supplier: string | null
      readonly percent: number
    }
  | { readonly kind: 'batch'; readonly nodes: readonly string[]; readonly multiple: Multiple }

/**
 * The snapshot as it would be. Changes are applied in order; the snapshot itself stays.
 *
 * A supplier who is out is replaced by the next by rank; where there is none, the item has no source. Per cent of a
 * demand are rounded to whole steps, half up; forecasts and orders of customers change, what open builds need does not.
 */
export function applyWhatIf(input: PlanInput, changes: readonly WhatIf[]): PlanInput {
  return changes.reduce<PlanInput>((snapshot, change, index) => {
    const about = (id: string): boolean => !('nodes' in change) || change.nodes === null || change.nodes.includes(id)
    switch (change.kind) {
      case 'demand':
        return {
          ...snapshot,
          demands: snapshot.demands
            .map((d) =>
              about(d.node) && (d.kind === 'sales order' || d.kind === 'forecast' || d.kind === 'what-if')
                ? { ...d, quantity: Math.floor((d.quantity * (100 + change.percent)) / 100 + 0.5) }
                : d,
            )
            .filter((d) => d.quantity > 0),
        }
      case 'more demand':
        return {
          ...snapshot,
          demands: [
            ...snapshot.demands,
            ...change.nodes.map((node) => ({
              id: `what-if:${index}:${node}`,
              node,
              day: change.day,
              quantity: change.quantity,
              kind: 'what-if' as const,
              label: 'What if',
              priority: 0,
            })),
          ],
        }
      case 'lead time':
        return sources(
          snapshot,
          (node) => about(node.id),
          (source) =>
            source.kind !== 'none' && (change.supplier === null || from(source, change.supplier))
              ? { ...source, leadDays: change.days }
              : source,
        )
      case 'price':
        return sources(
          snapshot,
          (node) => about(node.id),
          (source) =>
            source.kind === 'buy' && source.prices && (change.supplier === null || source.supplier === change.supplier)
              ? {
                  ...source,
                  prices: source.prices.map((step) => ({
                    ...step,
                    price: (step.price * (100 + change.percent)) / 100,
                  })),
                }
              : source,
        )
      case 'batch':
        return sources(
          snapshot,
          (node) => about(node.id),
          (source) =>
            source.kind === 'none' || source.kind === 'break down' ? source : { ...source, multiple: change.multiple },
        )
      case 'supplier out':
        return {
          ...snapshot,
          nodes: snapshot.nodes.map((node): PlanNode => {
            const others = node.others?.filter((source) => !from(source, change.supplier))
            if (from(node.source, change.supplier)) {
              return { ...node, source: others?.[0] ?? { kind: 'none', reason: 'no source' }, others: others?.slice(1) }
            }
            if (node.others) {
              return { ...node, others }
            }
            return node
          }),
        }
    }
  }, input)
}

const from = (source: Source, supplier: string): boolean => source.kind === 'buy' && source.supplier === supplier

const sources = (
  input: PlanInput,
  about: (node: PlanNode) => boolean,
  change: (source: Source) => Source,
): PlanInput => ({
  ...input,
  nodes: input.nodes.map((node) => (about(node) ? { ...node, source: change(node.source) } : node)),
})
