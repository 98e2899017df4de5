import { applyWhatIf, figuresOf, NetPlan, wayFrom, writeNode, writePlan, type FixedOrder, type NodePlan, type PlanFigures, type PlanInput, type PlannedOrder } from '~~/core/planning'
import { toDay, toIso } from '~~/core/calendar'
import type { WhatIfEdit } from '~~/shared/planning'
import { itemOf } from '~~/shared/node-id'
import { readWhatIf, type WhatIfItem } from '~~/shared/what-if'

export type PlanJob =
  | { readonly kind: 'open', readonly snapshot: PlanInput, readonly items: Readonly<Record<string, WhatIfItem>>, readonly changes: readonly WhatIfEdit[], readonly among: readonly string[] | null }
  | { readonly kind: 'try order', readonly node: string, readonly instead: string, readonly quantity: string, readonly due: string, readonly supplier: string | null }

export interface Tried { readonly figures: PlanFigures, readonly nodes: readonly NodePlan[], readonly took: number }
/** The orders of a node before and after. */
export interface Moved { readonly node: string, readonly before: readonly PlannedOrder[], readonly after: readonly PlannedOrder[] }
export interface OrderTried { readonly release: string, readonly lateBy: number, readonly moved: readonly Moved[], readonly reached: number, readonly took: number, readonly lowest: number }

let open: NetPlan | null = null
let steps: Readonly<Record<string, WhatIfItem>> = {}

/** Off the page's own thread: the whole plan on a change of what is tried out, and only what it reaches on a change of one order. */
self.onmessage = (event: MessageEvent<{ id: number, job: PlanJob }>) => {
  const { id, job } = event.data
  const begun = performance.now()
  try { self.postMessage({ id, answer: job.kind === 'open' ? tryChanges(job, begun) : tryOrder(job, begun) }) }
  catch (error) { self.postMessage({ id, error: (error as Error).message }) }
}

function tryChanges(job: Extract<PlanJob, { kind: 'open' }>, begun: number): Tried {
  steps = job.items
  const input = applyWhatIf(job.snapshot, readWhatIf(job.changes, job.snapshot, new Map(Object.entries(job.items))))
  const opened = NetPlan.open(input)
  if (!opened.ok) throw new Error(opened.error.code)
  open = opened.value
  const output = writePlan(open)
  return { figures: figuresOf(input, output, job.among === null ? null : new Set(job.among)), nodes: output.nodes, took: performance.now() - begun }
}

function tryOrder(job: Extract<PlanJob, { kind: 'try order' }>, begun: number): OrderTried {
  const plan = open!
  const at = plan.compiled.at.get(job.node)!
  const node = plan.compiled.nodes[at]!
  const ordersOf = (one: number): readonly PlannedOrder[] => writeNode(plan, one).orders
  const kept = (plan.compiled.fixed.get(at) ?? []).map((one): FixedOrder => ({ id: one.id, node: job.node, quantity: one.quantity, due: toIso(one.due), release: toIso(one.release), supplier: one.supplier }))
  const supplier = job.supplier ?? undefined
  const source = wayFrom(node, supplier)
  const release = source.kind === 'none' ? toDay(job.due) : plan.compiled.daysOf(source.calendar).back(toDay(job.due), source.leadDays)
  const quantity = Math.max(1, Math.ceil(Number(job.quantity) / Number(steps[String(itemOf(job.node))]!.step) - 1e-9))
  const changed = plan.change([{ node, fixed: [...kept.filter(one => one.id !== job.instead), { id: 'tried', node: job.node, quantity, due: job.due, release: toIso(Math.max(plan.compiled.start, release)), supplier }] }])
  if (!changed.ok) throw new Error(changed.error.code)
  const own = ordersOf(at).find(order => order.id === 'tried')
  const lowest = Math.min(...writeNode(plan, at).plan.days.map(day => day.projectedAvailable))
  const print = (orders: readonly PlannedOrder[]): string => orders.map(order => `${order.quantity} ${order.due}`).join()
  const after = new Map(changed.value.reached.map(one => [one, ordersOf(one)]))
  const took = performance.now() - begun
  // Back as it was: what those items order without it is what they order now.
  plan.change([{ node, fixed: kept }])
  const moved = changed.value.reached.map((one): Moved => ({ node: plan.compiled.nodes[one]!.id, before: ordersOf(one), after: after.get(one)! })).filter(one => print(one.before) !== print(one.after))
  return { release: own?.release ?? job.due, lateBy: own?.lateBy ?? 0, moved, reached: changed.value.reached.length, took, lowest }
}
