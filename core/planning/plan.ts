import { ok, type Result } from '../result'
import type { PlanError } from './compile'
import type { PlanInput } from './input'
import { NetPlan } from './netting'
import type { PlanOutput } from './explain'
import { explainNode } from './explain'

/**
 * Computes what will run short, and the orders that would prevent it, and writes everything out.
 *
 * Pure: the same input gives the same output; the order of input rows does not matter. Bad data of one node never stops
 * the rest: it is a message.
 * Units:  whole finest steps. Errors: `end-before-start`; `unknown-node`.
 * Source: APICS dictionary, material requirements planning; Orlicky, Material Requirements Planning (1975),
 *         gross-to-net logic.
 */
export function plan(input: PlanInput): Result<PlanOutput, PlanError> {
  const opened = NetPlan.open(input)
  return opened.ok ? ok(writePlan(opened.value)) : opened
}

/** Everything that an open plan says. */
export function writePlan(opened: NetPlan): PlanOutput {
  const written = opened.compiled.nodes.map((_, index) => explainNode(opened, index))
  return {
    nodes: written.map((result) => result.plan),
    orders: written.flatMap((result) => result.orders),
    pegs: written.flatMap((result) => result.pegs),
    messages: written.flatMap((result) => result.messages),
  }
}
