import { groupBy } from '../../group-by'
import { ok, type Result } from '../../result'
import type { PlanError } from '../compile'
import type { Demand, PlanInput, PlanNode } from '../input'
import { NetPlan, type NodeChange } from '../netting'
import type { NodePlan, PlanOutput } from '../explain'
import { explainNode, type ExplainedNode } from '../explain'

/** Beyond this part of all nodes, a plan made anew is quicker than one changed. */
const MANY = 1 / 4

/**
 * A plan that is written out once, and kept while things are tried: of a snapshot that differs in a few nodes, only
 * what they reach is netted and written again.
 */
export class LivePlan {
  /** By number of the node; only what is asked for is written. */
  private written: (ExplainedNode | undefined)[] = []
  private constructor(
    public net: NetPlan,
    public input: PlanInput,
  ) {}

  /** Errors: those of a plan. */
  static open(input: PlanInput): Result<LivePlan, PlanError> {
    const opened = NetPlan.open(input)
    return opened.ok ? ok(new LivePlan(opened.value, input)) : opened
  }

  /**
   * Takes another snapshot in place of the one before. Answers the nodes whose lines may be others now. Errors: those
   * of a plan; the one before stays then.
   */
  turnInto(input: PlanInput): Result<readonly string[], PlanError> {
    const changes = changesBetween(this.input, input)
    const { nodes } = this.net.compiled
    if (changes !== null && changes.length <= nodes.length * MANY) {
      const before = this.net
      const changed = before.change(changes)
      if (!changed.ok) {
        return changed
      }
      this.net = changed.value.plan
      this.input = input
      if (this.net === before) {
        for (const index of changed.value.reached) {
          this.written[index] = undefined
        }
      } else {
        this.written = []
      }
      return ok(changed.value.reached.map((index) => this.net.compiled.nodes[index]!.id))
    }
    const opened = NetPlan.open(input)
    if (!opened.ok) {
      return opened
    }
    this.net = opened.value
    this.input = input
    this.written = []
    return ok(this.net.compiled.nodes.map((node) => node.id))
  }

  /** The lines of one node; null where there is no such node. */
  linesOf(id: string): NodePlan | null {
    const index = this.net.compiled.at.get(id)
    return index === undefined ? null : this.write(index).plan
  }

  /** All that the plan says: as of one made anew. */
  output(): PlanOutput {
    const all = this.net.compiled.nodes.map((_, index) => this.write(index))
    return {
      nodes: all.map((entry) => entry.plan),
      orders: all.flatMap((entry) => entry.orders),
      pegs: all.flatMap((entry) => entry.pegs),
      messages: all.flatMap((entry) => entry.messages),
    }
  }

  private write(day: number): ExplainedNode {
    return (this.written[day] ??= explainNode(this.net, day))
  }
}

/** What changes from one snapshot to another, a node each; null where more differs than nodes and demands. */
function changesBetween(before: PlanInput, after: PlanInput): readonly NodeChange[] | null {
  const { nodes: nodesBefore, demands: demandsBefore, ...restBefore } = before
  const { nodes, demands, ...rest } = after
  if (nodes.length !== nodesBefore.length || !isSame(restBefore, rest)) {
    return null
  }
  const changed = new Map<string, NodeChange>()
  for (const [index, node] of nodes.entries()) {
    const was = nodesBefore[index]!
    if (was.id !== node.id) {
      return null
    }
    if (was !== node && !isSame(was, node)) {
      changed.set(node.id, { node })
    }
  }
  if (demands !== demandsBefore) {
    const [were, are] = [groupBy(demandsBefore, (row) => row.node), groupBy(demands, (row) => row.node)]
    const byId = new Map(nodes.map((node) => [node.id, node]))
    for (const id of new Set([...were.keys(), ...are.keys()])) {
      const [had, has] = [were.get(id) ?? [], are.get(id) ?? []]
      if (
        had.length === has.length &&
        had.every((row, index) => row === has[index] || isSame<Demand>(row, has[index]!))
      ) {
        continue
      }
      const node: PlanNode | undefined = byId.get(id)
      if (!node) {
        return null
      }
      changed.set(id, { node, demands: has })
    }
  }
  return [...changed.values()]
}

/** Whether every field is the very same; a list or an object that was made anew is not. */
function isSame<T extends object>(a: T, b: T): boolean {
  const keys = Object.keys(a) as (keyof T)[]
  return keys.length === Object.keys(b).length && keys.every((key) => a[key] === b[key])
}
