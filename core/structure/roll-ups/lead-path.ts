import type { Structure } from '..'
import { below } from './roll-up'

/** One step of a path: the item, and the working days before completion on which its own lead time begins and ends. */
export interface LeadStep {
  readonly item: string
  readonly leadDays: number
  readonly begins: number
  readonly ends: number
}

/**
 * The longest way from ordering the first part to having the root: lead times of making and buying end to end.
 *
 * Shape:  the root first, then what it waits for, down to what must be ordered first.
 * Units:  working days before the root is finished; a component wanted `offsetDays` after the release of its parent
 *         begins that
 *         much later. A phantom is built along with its parent and takes no time of its own.
 */
export function leadPath(
  structure: Structure,
  root: string,
  leadDaysOf: (item: string) => number,
): readonly LeadStep[] {
  const start = structure.at.get(root)
  if (start === undefined) {
    return [{ item: root, leadDays: leadDaysOf(root), begins: leadDaysOf(root), ends: 0 }]
  }
  const within = below(structure, root)
  const { items, child, lines, parent } = structure
  const phantom = new Uint8Array(items.length)
  lines.forEach((line, index) => {
    if (line.phantom && within[parent[index]!] === 1) {
      phantom[child[index]!] = 1
    }
  })
  const own = (item: number): number => (phantom[item] === 1 && item !== start ? 0 : leadDaysOf(items[item]!))
  const by = waitsFor(structure, start, within, own)
  const steps: LeadStep[] = []
  let ends = 0
  for (let item = start, line = -2; line !== -1; item = line < 0 ? item : child[line]!) {
    steps.push({ item: items[item]!, leadDays: own(item), begins: ends + own(item), ends })
    line = by[item]!
    if (line >= 0) {
      ends += own(item) - (lines[line]!.offsetDays ?? 0)
    }
  }
  return steps
}

/** The line whose component each item waits for longest; -1 where it waits for none. */
function waitsFor(
  { items, first, child, lines }: Structure,
  start: number,
  within: Uint8Array,
  own: (item: number) => number,
): Int32Array {
  const longest = new Float64Array(items.length)
  const by = new Int32Array(items.length).fill(-1)
  for (let item = items.length - 1; item >= start; item--) {
    if (within[item] === 0) {
      continue
    }
    for (let line = first[item]!; line < first[item + 1]!; line++) {
      const days = longest[child[line]!]! - (lines[line]!.offsetDays ?? 0)
      if (by[item] === -1 ? days > 0 : days > longest[item]!) {
        longest[item] = days
        by[item] = line
      }
    }
    longest[item]! += own(item)
  }
  return by
}
