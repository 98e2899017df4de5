import { ONE, ratio, ZERO } from '../units/exact'
import { compileStructure, type Structure, type StructureLine } from './compile'

/** A line as tests write it: so much of a child for one of its parent. */
export const line = (parent: string, child: string, per: string, more: Partial<StructureLine> = {}): StructureLine => ({
  parent,
  child,
  per: ratio(per),
  fixed: ZERO,
  scrap: ZERO,
  outputYield: ONE,
  ...more,
})

/** Lines that are known to have no loop, arranged. */
export function structureOf(lines: readonly StructureLine[]): Structure {
  const compiled = compileStructure(lines)
  if (!compiled.ok) {
    throw new Error('These lines have a loop')
  }
  return compiled.value
}
