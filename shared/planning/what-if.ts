import { plural } from '~~/core/plural'
import type { PlanInput } from '~~/core/planning/input'
import type { WhatIf } from '~~/core/planning/what-if'
import { ratio, toSteps, type Ratio } from '~~/core/units/exact'
import { itemOf } from './node-id'
import type { WhatIfEdit } from './requests'

/** What is known of a node where a change is read: its item's group with all groups above, and the finest step. */
export interface WhatIfItem {
  readonly step: string
  readonly groups: readonly number[]
}

/**
 * A change as somebody says it, in the nodes and whole steps of a snapshot; what names an item that the snapshot does
 * not have is left out.
 */
export function readWhatIf(
  edits: readonly WhatIfEdit[],
  input: Pick<PlanInput, 'nodes'>,
  items: ReadonlyMap<string, WhatIfItem>,
): readonly WhatIf[] {
  const steps = (node: string, quantity: string): Ratio => ratio(quantity).div(ratio(items.get(node)!.step))
  const nodesOf = (item: number): readonly string[] =>
    input.nodes.map((node) => node.id).filter((id) => itemOf(id) === item)
  const some = (edit: {
    readonly itemId: number | null
    readonly groupId?: number | null
  }): readonly string[] | null => {
    const { itemId } = edit
    if (itemId !== null) {
      return nodesOf(itemId)
    }
    const group = edit.groupId ?? null
    return group === null
      ? null
      : input.nodes.map((node) => node.id).filter((id) => items.get(String(itemOf(id)))?.groups.includes(group))
  }
  const supplier = (id: number | null): string | null => (id === null ? null : String(id))
  return edits.flatMap((edit): WhatIf[] => {
    if ('itemId' in edit && edit.itemId !== null && !items.has(String(edit.itemId))) {
      return []
    }
    switch (edit.kind) {
      case 'demand':
        return [{ kind: 'demand', nodes: some(edit), percent: edit.percent }]
      case 'more demand':
        return [
          {
            kind: 'more demand',
            nodes: [String(edit.itemId)],
            quantity: Number(
              toSteps(ratio(edit.quantity), ratio(items.get(String(edit.itemId))!.step), 'required').steps,
            ),
            day: edit.day,
          },
        ]
      case 'lead time':
        return [{ kind: 'lead time', nodes: some(edit), supplier: supplier(edit.supplierId), days: edit.days }]
      case 'supplier out':
        return [{ kind: 'supplier out', supplier: String(edit.supplierId) }]
      case 'price':
        return [{ kind: 'price', nodes: some(edit), supplier: supplier(edit.supplierId), percent: edit.percent }]
      case 'batch': {
        const size = steps(String(edit.itemId), edit.quantity)
        return [
          {
            kind: 'batch',
            nodes: input.nodes
              .filter((node) => itemOf(node.id) === edit.itemId && node.source.kind !== 'move')
              .map((node) => node.id),
            multiple: { numerator: String(size.n), denominator: String(size.d) },
          },
        ]
      }
    }
  })
}

const percent = (value: number): string => `${value < 0 ? '−' : '+'}${Math.abs(value)} %`

/** A change in a few words. */
export function describeWhatIf(
  edit: WhatIfEdit,
  words: {
    item(id: number): string
    group(id: number): string
    supplier(id: number): string
    day(iso: string): string
    unit(id: number): string
  },
): string {
  const about = (): string => {
    if ('itemId' in edit && edit.itemId !== null) {
      return words.item(edit.itemId)
    }
    if ('groupId' in edit && edit.groupId !== null) {
      return words.group(edit.groupId)
    }
    return 'supplierId' in edit && edit.supplierId !== null ? words.supplier(edit.supplierId) : 'everything'
  }
  switch (edit.kind) {
    case 'demand':
      return `Demand for ${about()} ${percent(edit.percent)}`
    case 'more demand':
      return `${edit.quantity} ${words.unit(edit.itemId)} more of ${words.item(edit.itemId)} wanted on ${words.day(edit.day)}`
    case 'lead time':
      return `${about()}: ${edit.days} working ${plural(edit.days, 'day', 'days')} of lead time`
    case 'supplier out':
      return `${words.supplier(edit.supplierId)} does not deliver`
    case 'price':
      return `Prices of ${about()} ${percent(edit.percent)}`
    case 'batch':
      return `${about()} in steps of ${edit.quantity} ${words.unit(edit.itemId)}`
  }
}
