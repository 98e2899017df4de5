import type * as z from 'zod'
import { toDay } from '~~/core/calendar/days'
import { ok, refuse, type Result } from '~~/core/result'
import type { PlanInput, Source } from '~~/core/planning/input'
import { PlanFile } from './plan-file'

/** One thing that is wrong in a snapshot: where, such as `nodes[3].source.leadDays`, and a sentence. */
export interface InputFault {
  readonly path: string
  readonly sentence: string
}

/** Ten years; a day more of horizon is a column more of every node. */
const MOST_DAYS = 3660

/**
 * Checks a snapshot that came from a file, whole, before it is planned on: its shape, that whatever it names is there,
 * and that it can be planned.
 *
 * Errors: every fault, in the order of the file; what the shape hides is told once the shape is right.
 */
export function checkInput(data: unknown): Result<PlanInput, readonly InputFault[]> {
  const read = PlanFile.safeParse(data, { reportInput: true })
  if (!read.success) {
    return refuse(read.error.issues.flatMap((issue) => faultsOf(issue)))
  }
  const input: PlanInput = read.data
  const faults = [...horizonFaults(input), ...nodeFaults(input), ...rowFaults(input)]
  return faults.length > 0 ? refuse(faults) : ok(input)
}

const pathOf = (keys: readonly PropertyKey[]): string =>
  keys.reduce<string>((path, key) => {
    if (typeof key === 'number') {
      return `${path}[${key}]`
    }
    return path === '' ? String(key) : `${path}.${String(key)}`
  }, '') || 'the file'

/**
 * The message of an issue of zod says what is wanted; whether anything was given, its input does, where that is
 * reported.
 */
const isMissing = (issue: z.core.$ZodIssue): boolean => issue.code === 'invalid_type' && issue.input === undefined

function faultsOf(issue: z.core.$ZodIssue): readonly InputFault[] {
  const path = pathOf(issue.path)
  if (issue.code === 'unrecognized_keys') {
    return issue.keys.map((key) => ({
      path: pathOf([...issue.path, key]),
      sentence: 'is not a field that is known here',
    }))
  }
  return [
    {
      path,
      sentence: isMissing(issue) ? `is missing: it ${issue.message}` : issue.message,
    },
  ]
}

function* horizonFaults({ start, end }: PlanInput): Generator<InputFault> {
  const days = toDay(end) - toDay(start)
  if (days < 0) {
    yield { path: 'end', sentence: `must not be before the start, ${start}` }
  } else if (days > MOST_DAYS) {
    yield { path: 'end', sentence: `must be within ten years of the start, ${start}` }
  }
}

function* nodeFaults(input: PlanInput): Generator<InputFault> {
  const known = new Set(input.nodes.map((node) => node.id))
  const met = new Set<string>()
  for (const [place, node] of input.nodes.entries()) {
    const path = `nodes[${place}]`
    if (met.has(node.id)) {
      yield { path: `${path}.id`, sentence: `names ${node.id} a second time` }
    }
    met.add(node.id)
    yield* sourceFaults(input, { path: `${path}.source`, own: node.id, source: node.source }, known)
    for (const [rank, source] of (node.others ?? []).entries()) {
      yield* sourceFaults(input, { path: `${path}.others[${rank}]`, own: node.id, source }, known)
    }
    yield* sumFaults(node.onHand, `${path}.onHand`)
  }
}

interface Placed {
  readonly path: string
  readonly own: string
  readonly source: Source
}
function* sourceFaults(
  { calendars }: PlanInput,
  { path, own, source }: Placed,
  known: ReadonlySet<string>,
): Generator<InputFault> {
  if (source.kind === 'none') {
    return
  }
  if (source.calendar !== null && !Object.hasOwn(calendars, source.calendar)) {
    yield { path: `${path}.calendar`, sentence: `names a calendar that is not there: ${source.calendar}` }
  }
  for (const { at, node } of namedBy(source)) {
    if (!known.has(node)) {
      yield { path: `${path}.${at}`, sentence: unknownNode(node) }
    }
  }
  if (source.kind === 'break down') {
    const times = source.outputs.filter((output) => output.node === own).length
    if (times !== 1) {
      yield { path: `${path}.outputs`, sentence: `must name ${own}, which is broken down by it, once` }
    }
  }
}

function namedBy(source: Exclude<Source, { kind: 'none' }>): readonly { readonly at: string; readonly node: string }[] {
  switch (source.kind) {
    case 'buy':
      return []
    case 'make':
      return [
        ...source.components.map(({ node }, i) => ({ at: `components[${i}].node`, node })),
        ...(source.byProducts ?? []).map(({ node }, i) => ({ at: `byProducts[${i}].node`, node })),
      ]
    case 'break down':
      return [
        { at: 'from', node: source.from },
        ...source.outputs.map(({ node }, i) => ({ at: `outputs[${i}].node`, node })),
      ]
    case 'move':
      return [{ at: 'from', node: source.from }]
  }
}

const unknownNode = (node: string): string => `names a node that is not there: ${node}`

function* rowFaults(input: PlanInput): Generator<InputFault> {
  const nodes = new Set(input.nodes.map((node) => node.id))
  for (const list of ['demands', 'supplies', 'fixed'] as const) {
    const met = new Set<string>()
    const rows = input[list] ?? []
    for (const [place, { id, node }] of rows.entries()) {
      if (!nodes.has(node)) {
        yield { path: `${list}[${place}].node`, sentence: unknownNode(node) }
      }
      if (met.has(id)) {
        yield { path: `${list}[${place}].id`, sentence: `names ${id} a second time` }
      }
      met.add(id)
    }
    yield* sumFaults(rows, list)
  }
  const supplies = new Set(input.supplies.map((supply) => supply.id))
  for (const [place, demand] of input.demands.entries()) {
    for (const [i, supply] of (demand.for ?? []).entries()) {
      if (!supplies.has(supply)) {
        yield { path: `demands[${place}].for[${i}]`, sentence: `names an open supply that is not there: ${supply}` }
      }
    }
  }
  for (const [place, { due, release }] of (input.fixed ?? []).entries()) {
    if (release > due) {
      yield { path: `fixed[${place}].release`, sentence: `must not be after it is due, ${due}` }
    }
  }
}

/** Sums that a plain number does not hold exactly. */
function* sumFaults(
  rows: readonly { readonly node?: string; readonly quantity: number }[],
  path: string,
): Generator<InputFault> {
  const sums = new Map<string, number>()
  for (const [place, { node = '', quantity }] of rows.entries()) {
    const sum = (sums.get(node) ?? 0) + quantity
    sums.set(node, sum)
    if (!Number.isSafeInteger(sum)) {
      yield { path: `${path}[${place}].quantity`, sentence: 'makes the sum of its node more than 2^53 - 1 steps' }
      return
    }
  }
}
