import { compileStructure, explode, type StructureLine } from '~~/core/structure'
import { ONE, ratio, ZERO, type Ratio } from '~~/core/units'
import { best, stream, type Figure } from './figure'

/** One product of 12 levels whose parts are shared: every path is walked once by the one, once each by the other. */
export async function run(): Promise<Figure[]> {
  const next = stream(3)
  const lines: StructureLine[] = []
  for (let level = 0; level < 11; level++) {
    for (let at = 0; at < 20; at++) for (let i = 0; i < 3; i++) lines.push({ parent: `${level}.${at}`, child: `${level + 1}.${next(20)}`, per: ratio(1 + next(3)), fixed: ZERO, scrap: ZERO, outputYield: ONE })
  }
  const compiled = compileStructure(lines)
  if (!compiled.ok) throw new Error('loop')
  const children = new Map<string, StructureLine[]>()
  for (const line of lines) children.set(line.parent, [...children.get(line.parent) ?? [], line])
  const walk = (item: string, quantity: Ratio, need: Map<string, Ratio>): Map<string, Ratio> => {
    for (const line of children.get(item) ?? []) { need.set(line.child, (need.get(line.child) ?? ZERO).add(quantity.mul(line.per))); walk(line.child, quantity.mul(line.per), need) }
    return need
  }
  const ours = await best(5, () => explode(compiled.value, '0.0', ratio(24)))
  const paths = await best(1, () => walk('0.0', ratio(24), new Map()))
  return [{ bench: 'structure', figure: 'explosion of 12 levels with shared parts', value: ours, unit: 'ms', comparedWith: `walking every path (${paths.toFixed(0)} ms)`, ratio: ours / paths }]
}
