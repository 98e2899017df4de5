import type { Compiled } from '../compile'
import type { PlanNode } from '../input'

/** How long it takes to get a node, by the calendars of the snapshot. Days from the start on. */
export class LeadTimes {
  private readonly begins = new Map<number, number | null>()

  constructor(private readonly compiled: Compiled) {}

  /** When a node can be there if nothing of it or of what it is made from is: the lead times along the longest way. */
  soonest(index: number): number | null {
    const begin = this.beginFromNothing(index)
    return begin === null ? null : this.after(this.compiled.nodes[index]!.source, begin)
  }

  /** When a node can be begun if all that it is made from must be got first. */
  beginFromNothing(index: number): number | null {
    const known = this.begins.get(index)
    if (known !== undefined) {
      return known
    }
    const { source } = this.compiled.nodes[index]!
    let begin: number | null = source.kind === 'none' ? null : 0
    for (const { node, offsetDays } of partsOf(source)) {
      const ready = this.soonest(this.compiled.at.get(node)!)
      begin = begin === null || ready === null ? null : Math.max(begin, this.beginFor(source, ready, offsetDays))
    }
    this.begins.set(index, begin)
    return begin
  }

  /** When what begins on a day is done. */
  after(source: PlanNode['source'], begin: number): number {
    if (source.kind === 'none') {
      return begin
    }
    const { compiled } = this
    return compiled.daysOf(source.calendar).forward(compiled.start + begin, leadDaysOf(source)) - compiled.start
  }

  /**
   * The first day on which may be begun what needs a component, that is there on `ready`, so many working days later.
   */
  beginFor(source: PlanNode['source'], ready: number, offsetDays: number): number {
    if (source.kind === 'none' || offsetDays === 0) {
      return ready
    }
    const { compiled } = this
    const days = compiled.daysOf(source.calendar)
    return days.back(days.forward(compiled.start + ready, 0), offsetDays) - compiled.start
  }
}

/** In working days; nothing where it only hands through. */
export const leadDaysOf = (source: PlanNode['source']): number =>
  source.kind === 'none' || (source.kind === 'make' && source.isPassThrough) ? 0 : source.leadDays

/** What a node is made from, and how many working days after the release it is needed. */
function partsOf(source: PlanNode['source']): readonly { readonly node: string; readonly offsetDays: number }[] {
  if (source.kind === 'make') {
    return source.components.map(({ node, offsetDays }) => ({ node, offsetDays: offsetDays ?? 0 }))
  }
  return source.kind === 'break down' || source.kind === 'move' ? [{ node: source.from, offsetDays: 0 }] : []
}
