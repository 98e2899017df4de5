import { toSteps, ZERO, type Ratio } from '../../units/exact'
import type { Structure } from '..'

/**
 * What a build does with a component: takes it, takes what there is of it and makes the rest of its components, or
 * takes only these.
 */
export type Handing = 'take' | 'take what is there' | 'hand through'

export interface BuildNeed {
  readonly item: string
  /** Exact, in the item's stock unit; not yet on a finest step. */
  readonly need: Ratio
}

/**
 * What a build of `quantity` takes, one row a component, in the order of the bill.
 *
 * Phantoms are taken as far as there are any, the rest is made straight into the parent; open kits hand everything
 * through. What an item hands on is rounded up to its finest step once, as if it were built.
 * Units:  `quantity` in the stock unit of the root; each need in its own item's.
 * Errors: none; the structure has no loops, or it would not compile.
 *
 * @example 10 covers of 1 lining set each (a phantom; 4 are there; 2 sheets a set) → lining set 4, sheet 12
 */
export function buildNeeds(
  structure: Structure,
  root: string,
  quantity: Ratio,
  how: {
    readonly handing: (item: string, phantom: boolean) => Handing
    readonly free: (item: string) => Ratio
    readonly finestStep: (item: string) => Ratio
  },
): readonly BuildNeed[] {
  const needs = new Map<string, Ratio>()
  const left = new Map<string, Ratio>()
  const add = (item: string, more: Ratio): void => {
    if (more.compare(ZERO) > 0) {
      needs.set(item, (needs.get(item) ?? ZERO).add(more))
    }
  }
  const walk = (parent: string, ratio: Ratio): void => {
    const index = structure.at.get(parent)
    if (index === undefined) {
      return
    }
    for (let line = structure.first[index]!; line < structure.first[index + 1]!; line++) {
      const { child, phantom } = structure.lines[line]!
      const need = structure.per.get(line).mul(ratio).add(structure.fixed.get(line))
      const below = structure.at.get(child)
      const isMade = below !== undefined && structure.first[below] !== structure.first[below + 1]
      const handing = isMade ? how.handing(child, phantom ?? false) : 'take'
      if (handing === 'take') {
        add(child, need)
        continue
      }
      const there = handing === 'hand through' ? ZERO : (left.get(child) ?? how.free(child))
      const taken = there.compare(need) < 0 ? there : need
      left.set(child, there.sub(taken))
      add(child, taken)
      if (need.compare(taken) > 0) {
        walk(child, toSteps(need.sub(taken), how.finestStep(child), 'required').quantity)
      }
    }
  }
  walk(root, quantity)
  return [...needs].map(([item, need]) => ({ item, need }))
}

/**
 * What a part of a build uses of a component when it goes by the bill: the part's share of what is still to be used, up
 * to the next finest step; the last part takes the rest. What was used beyond the bill before does not make it less.
 *
 * Shape: `rest` is what the bill still wants for `left`; making more than was planned takes as the whole build does.
 *
 * @example 24 books need 0.3 kg; 10 of them: 0.125 kg, then the other 14: 0.175 kg
 */
export function useForPart(
  line: { readonly need: Ratio; readonly rest: Ratio; readonly finestStep: Ratio },
  build: { readonly quantity: Ratio; readonly left: Ratio },
  part: Ratio,
): Ratio {
  if (part.compare(ZERO) <= 0) {
    return ZERO
  }
  const share =
    build.left.compare(ZERO) > 0 ? line.rest.mul(part).div(build.left) : line.need.mul(part).div(build.quantity)
  const up = toSteps(share, line.finestStep, 'required').quantity
  return part.compare(build.left) < 0 && up.compare(line.rest) > 0 ? line.rest : up
}
