import { ONE, ZERO, type Ratio } from '../../units/exact'
import type { Structure } from '..'
import { below } from './roll-up'

/** `known` is the mass of one stock unit as far as weights are known; `unknown` are the items that have none. */
export interface Mass {
  readonly known: Ratio
  readonly unknown: readonly string[]
}

/**
 * The mass of one stock unit of the root: its own where it is stated, else that of its components.
 *
 * Units: the unit of `massOf`, per stock unit. What is scrapped is not in the product, so scrap and yield do not count;
 *        what is
 *        needed once a build is spread over `build`.
 */
export function massOf(
  structure: Structure,
  root: string,
  stated: (item: string) => Ratio | null,
  build: (item: string) => Ratio = () => ONE,
): Mass {
  const start = structure.at.get(root)
  if (start === undefined) {
    const own = stated(root)
    return { known: own ?? ZERO, unknown: own ? [] : [root] }
  }
  const within = below(structure, root)
  const masses = new Map<number, { known: Ratio; unknown: ReadonlySet<string> }>()
  for (let item = structure.items.length - 1; item >= start; item--) {
    if (within[item] === 0) {
      continue
    }
    const name = structure.items[item]!
    const own = stated(name)
    if (own || structure.first[item] === structure.first[item + 1]) {
      masses.set(item, { known: own ?? ZERO, unknown: new Set(own ? [] : [name]) })
      continue
    }
    let known = ZERO
    const unknown = new Set<string>()
    for (let line = structure.first[item]!; line < structure.first[item + 1]!; line++) {
      const part = masses.get(structure.child[line]!)!
      const { per, fixed } = structure.lines[line]!
      known = known.add(per.add(fixed.div(build(name))).mul(part.known))
      for (const entry of part.unknown) {
        unknown.add(entry)
      }
    }
    masses.set(item, { known, unknown })
  }
  const { known, unknown } = masses.get(start)!
  return { known, unknown: [...unknown] }
}
