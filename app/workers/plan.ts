import { applyWhatIf, figuresOf, LivePlan, type PlanFigures } from '~~/core/planning/what-if'
import { wayFrom, type FixedOrder, type PlanInput } from '~~/core/planning/input'
import { explainNode, type PlannedOrder } from '~~/core/planning/explain'
import { toDay, toIso } from '~~/core/calendar/days'
import { packLines, type PackedLines } from '~~/shared/planning/plan-lines'
import type { WhatIfEdit } from '~~/shared/planning/requests'
import { itemOf } from '~~/shared/planning/node-id'
import { readWhatIf, type WhatIfItem } from '~~/shared/planning/what-if'

/** Of which plan, as it was stored with what it kept of what is tried. */
export interface PlanFrom {
  readonly id: number
  readonly version: number
  readonly kept: readonly WhatIfEdit[]
}
export type PlanJob =
  | { readonly kind: 'load'; readonly plan: PlanFrom }
  | {
      readonly kind: 'try'
      readonly plan: PlanFrom
      readonly changes: readonly WhatIfEdit[]
      readonly among: readonly string[] | null
    }
  | {
      readonly kind: 'try order'
      readonly plan: PlanFrom
      readonly changes: readonly WhatIfEdit[]
      readonly node: string
      readonly instead: string
      readonly quantity: string
      readonly due: string
      readonly supplier: string | null
    }

/**
 * What a change makes of the plan: its figures, and the lines of every node that may be another than as it was stored.
 */
export interface Tried {
  readonly figures: PlanFigures
  readonly lines: PackedLines
  readonly took: number
}
/** The orders of a node before and after. */
export interface Moved {
  readonly node: string
  readonly before: readonly PlannedOrder[]
  readonly after: readonly PlannedOrder[]
}
export interface OrderTried {
  readonly release: string
  readonly lateBy: number
  readonly moved: readonly Moved[]
  readonly reached: number
  readonly took: number
  readonly lowest: number
}

interface Opened {
  readonly plan: PlanFrom
  readonly snapshot: PlanInput
  readonly items: Readonly<Record<string, WhatIfItem>>
  readonly live: LivePlan
  readonly touched: Set<string>
  changes: string
}
let opened: Opened | null = null
let before: Promise<unknown> = Promise.resolve()

/**
 * Off the page's own thread, which never holds the snapshot. A change nets and writes again what it reaches; jobs are
 * done in the order in which they come.
 */
self.onmessage = (event: MessageEvent<{ id: number; job: PlanJob }>) => {
  const { id, job } = event.data
  before = before.then(async () => {
    try {
      self.postMessage({ id, answer: await answer(job) })
    } catch (error) {
      self.postMessage({ id, error: (error as Error).message })
    }
  })
}

async function answer(job: PlanJob): Promise<Tried | OrderTried | null> {
  const index = await openAt(job.plan)
  if (job.kind === 'load') {
    return null
  }
  const begun = performance.now()
  turn(index, job.changes)
  return job.kind === 'try' ? triedOf(index, job.among, begun) : tryOrder(index.live, index.items, job, begun)
}

async function openAt(plan: PlanFrom): Promise<Opened> {
  if (opened?.plan.id === plan.id && opened.plan.version === plan.version) {
    return opened
  }
  opened = null
  const found = await fetch(`/api/planning/plans/${plan.id}/snapshot`)
  const read = (await found.json()) as { snapshot: PlanInput; items: Record<string, WhatIfItem>; detail?: string }
  if (!found.ok) {
    throw new Error(read.detail ?? 'The plan could not be read. Reload the page.')
  }
  const live = LivePlan.open(changed(read, plan.kept))
  if (!live.ok) {
    throw new Error(live.error.code)
  }
  return (opened = { plan, ...read, live: live.value, touched: new Set(), changes: JSON.stringify(plan.kept) })
}

const changed = ({ snapshot, items }: Pick<Opened, 'snapshot' | 'items'>, changes: readonly WhatIfEdit[]): PlanInput =>
  applyWhatIf(snapshot, readWhatIf(changes, snapshot, new Map(Object.entries(items))))

function turn(entry: Opened, changes: readonly WhatIfEdit[]): void {
  const asked = JSON.stringify(changes)
  if (asked === entry.changes) {
    return
  }
  const reached = entry.live.turnInto(changed(entry, changes))
  if (!reached.ok) {
    throw new Error(reached.error.code)
  }
  entry.changes = asked
  for (const node of reached.value) {
    entry.touched.add(node)
  }
}

function triedOf({ live, touched }: Opened, among: readonly string[] | null, begun: number): Tried {
  const figures = figuresOf(live.input, live.output(), among === null ? null : new Set(among))
  return {
    figures,
    lines: packLines([...touched].flatMap((id) => live.linesOf(id) ?? [])),
    took: performance.now() - begun,
  }
}

function tryOrder(
  { net: plan }: LivePlan,
  items: Opened['items'],
  job: Extract<PlanJob, { kind: 'try order' }>,
  begun: number,
): OrderTried {
  const index = plan.compiled.at.get(job.node)!
  const node = plan.compiled.nodes[index]!
  const ordersOf = (nodeIndex: number): readonly PlannedOrder[] => explainNode(plan, nodeIndex).orders
  const kept = (plan.compiled.fixed.get(index) ?? []).map((nodeIndex): FixedOrder => ({
    id: nodeIndex.id,
    node: job.node,
    quantity: nodeIndex.quantity,
    due: toIso(nodeIndex.due),
    release: toIso(nodeIndex.release),
    supplier: nodeIndex.supplier,
  }))
  const supplier = job.supplier ?? undefined
  const source = wayFrom(node, supplier)
  const release =
    source.kind === 'none'
      ? toDay(job.due)
      : plan.compiled.daysOf(source.calendar).back(toDay(job.due), source.leadDays)
  const quantity = Math.max(1, Math.ceil(Number(job.quantity) / Number(items[String(itemOf(job.node))]!.step) - 1e-9))
  const changes = plan.change([
    {
      node,
      fixed: [
        ...kept.filter((nodeIndex) => nodeIndex.id !== job.instead),
        {
          id: 'tried',
          node: job.node,
          quantity,
          due: job.due,
          release: toIso(Math.max(plan.compiled.start, release)),
          supplier,
        },
      ],
    },
  ])
  if (!changes.ok) {
    throw new Error(changes.error.code)
  }
  const { reached } = changes.value
  const own = ordersOf(index).find((order) => order.id === 'tried')
  const lowest = Math.min(...explainNode(plan, index).plan.days.map((day) => day.projectedAvailable))
  const print = (orders: readonly PlannedOrder[]): string =>
    orders.map((order) => `${order.quantity} ${order.due}`).join()
  const after = new Map(reached.map((nodeIndex) => [nodeIndex, ordersOf(nodeIndex)]))
  const took = performance.now() - begun
  // Back as it was: what those items order without it is what they order now.
  plan.change([{ node, fixed: kept }])
  const moved = reached
    .map((nodeIndex): Moved => ({
      node: plan.compiled.nodes[nodeIndex]!.id,
      before: ordersOf(nodeIndex),
      after: after.get(nodeIndex)!,
    }))
    .filter((nodeIndex) => print(nodeIndex.before) !== print(nodeIndex.after))
  return { release: own?.release ?? job.due, lateBy: own?.lateBy ?? 0, moved, reached: reached.length, took, lowest }
}
