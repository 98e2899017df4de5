import type { NodePlan } from '~~/core/planning/explain'

/**
 * The lines of many nodes as they travel: days by their place in a list, seven figures behind each; a fifth of the same
 * as objects.
 */
export interface PackedLines {
  readonly days: readonly string[]
  readonly nodes: readonly {
    readonly id: string
    readonly level: number
    readonly onHand: number
    readonly safety: number
    readonly lines: readonly number[]
  }[]
}

const WIDTH = 8

export function packLines(nodes: readonly NodePlan[]): PackedLines {
  const days = [...new Set(nodes.flatMap((node) => node.days.map((day) => day.day)))].sort()
  const position = new Map(days.map((day, index) => [day, index]))
  return {
    days,
    nodes: nodes.map(({ id, level, onHand, safety, days: own }) => ({
      id,
      level,
      onHand,
      safety,
      lines: own.flatMap((d) => [
        position.get(d.day)!,
        d.grossRequirements,
        d.scheduledReceipts,
        d.netRequirements,
        d.plannedReceipts,
        d.plannedReleases,
        d.projectedAvailable,
        d.withoutOrders,
      ]),
    })),
  }
}

export function unpackLines({ days, nodes }: PackedLines): NodePlan[] {
  return nodes.map(({ id, level, onHand, safety, lines }) => ({
    id,
    level,
    onHand,
    safety,
    days: Array.from({ length: lines.length / WIDTH }, (_, index) => {
      const position = index * WIDTH
      return {
        day: days[lines[position]!]!,
        grossRequirements: lines[position + 1]!,
        scheduledReceipts: lines[position + 2]!,
        netRequirements: lines[position + 3]!,
        plannedReceipts: lines[position + 4]!,
        plannedReleases: lines[position + 5]!,
        projectedAvailable: lines[position + 6]!,
        withoutOrders: lines[position + 7]!,
      }
    }),
  }))
}
