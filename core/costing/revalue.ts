import TinyQueue from 'tinyqueue'
import { ok, refuse, type Result } from '../result'
import type { Ratio } from '../units/exact'
import { CostPool, emptyPool, type Amounts, type PoolState } from './cost-pool'
import type { Minor } from './moving-average'
import { shareWork, type JobHistory } from './share-work'
import { entering, inOrder, leaving, otherEnd, valueMove, type CostMove } from './value-moves'

/** A move of the ledger with what it is said to be worth until now. */
export interface RecordedMove extends CostMove {
  readonly amounts: Amounts
}

/** A new standard cost of one stock unit, from the morning of a day on, and what the pool's stock gained by it until now. */
export interface StandardChange {
  readonly posting: number
  readonly day: string
  readonly unit: Ratio
  readonly gained: Minor
}

/** All that ever went through a pool, in any order; or, in place of it, how the pool stands before the fresh moves. */
export interface PoolHistory {
  readonly start: PoolState
  readonly moves: readonly RecordedMove[]
  readonly standards: readonly StandardChange[]
}

/** All that was recorded of a job. */
export interface RecordedJob extends JobHistory {
  readonly moves: readonly RecordedMove[]
}

export type HistoryRequest =
  { readonly kind: 'pool'; readonly key: string } | { readonly kind: 'job'; readonly key: string }

export interface Revaluation {
  /** Moves that are worth something else than they were said to be, with what they are worth now; the new ones too. */
  readonly moves: ReadonlyMap<
    string,
    { readonly now: Amounts; readonly before: Amounts | null; readonly move: CostMove }
  >
  readonly standards: readonly {
    readonly pool: string
    readonly posting: number
    readonly day: string
    readonly now: Minor
    readonly before: Minor
  }[]
  /** What jobs that were closed have written off, where it is something else now. */
  readonly closings: readonly {
    readonly posting: number
    readonly day: string
    readonly now: Minor
    readonly before: Minor
  }[]
  /** The pools that were worked through, as they stand after all. */
  readonly pools: ReadonlyMap<string, PoolState>
}

/** More leaves a pool on a day than it held then. */
export interface LackedThen {
  readonly code: 'lacked-then'
  readonly pool: string
  readonly day: string
  readonly move: string
  readonly wanted: Ratio
  readonly there: Ratio
}

type Event = { readonly move: RecordedMove } | { readonly standard: StandardChange }
interface Worked {
  readonly pool: CostPool
  readonly events: readonly Event[]
  next: number
}

/** The job of a posting that is not recorded yet and belongs to none that is. */
export const NEW_JOB = 'new'

const NOTHING: Amounts = { value: 0n, variance: 0n, restated: 0n }

/**
 * Works out again what moves are worth, from the first that may be worth something else on, and follows the difference wherever it goes:
 * into what was built from the goods, moved to another site, or sold.
 *
 * A generator: it asks for the histories that it turns out to need, and goes on when it is given them; so it reads nothing itself.
 * Shape:  `changed` names pools where something is new from a move on, or from the beginning (null); `fresh` are the moves of a posting
 *         that no history has yet, and the work that it adds to their job.
 * Errors: `lacked-then` where a move would take more than its pool held on its day.
 * Cost:   each move of each pool that is reached is gone through once.
 */
export function* revalue(
  changed: readonly { readonly pool: string; readonly from: RecordedMove | null }[],
  fresh: { readonly moves: readonly CostMove[]; readonly work: Minor },
): Generator<HistoryRequest, Result<Revaluation, LackedThen>, PoolHistory | RecordedJob> {
  const worked = new Map<string, Worked>()
  const now = new Map<string, Amounts>()
  const known = new Map<string, RecordedMove>(fresh.moves.map((move) => [move.id, { ...move, amounts: NOTHING }]))
  const isFresh = new Set(known.keys())
  const jobs = new Map<string, JobHistory>()
  const standards: { pool: string; posting: number; day: string; now: Minor; before: Minor }[] = []
  const queue = new TinyQueue<{ key: string; event: Event }>([], (a, b) => order(a.event, b.event))
  const amountsOf = (id: string): Amounts => now.get(id) ?? known.get(id)?.amounts ?? NOTHING
  const context = { pool: (key: string) => worked.get(key)!.pool, amountsOf, shareOf }

  function* open(key: string, from: Event | null): Generator<HistoryRequest, void, PoolHistory | RecordedJob> {
    if (worked.has(key)) {
      return
    }
    const history = (yield { kind: 'pool', key }) as PoolHistory
    for (const move of history.moves) {
      if (!known.has(move.id)) {
        known.set(move.id, move)
      }
    }
    const added = fresh.moves.filter((move) => move.from === key || move.to === key)
    const events: Event[] = [...history.moves.filter((move) => move.from !== move.to), ...added].map((move) => ({
      move: known.get(move.id)!,
    }))
    events.push(...history.standards.map((standard) => ({ standard })))
    events.sort(order)
    const result: Worked = { pool: new CostPool(history.start), events, next: 0 }
    worked.set(key, result)
    // What came before is gone through as it was recorded: nothing there has changed.
    while (from !== null && result.next < events.length && order(events[result.next]!, from) < 0) {
      goThrough(key, result.pool, events[result.next++]!, known)
    }
    queueNext(key, result)
  }

  function queueNext(key: string, result: Worked): void {
    if (result.next < result.events.length) {
      queue.push({ key, event: result.events[result.next]! })
    }
  }

  function shareOf(move: CostMove): Minor {
    const job = move.job === null ? undefined : jobs.get(move.job)
    return job === undefined ? otherEnd(known.get(move.id)!.amounts) : shareWork(job, amountsOf).shares.get(move.id)!
  }

  function* openJob(key: string): Generator<HistoryRequest, void, PoolHistory | RecordedJob> {
    if (jobs.has(key)) {
      return
    }
    const added = fresh.moves.filter((move) => move.job === key)
    const history =
      key === NEW_JOB ? { works: [], moves: [], closings: [] } : ((yield { kind: 'job', key }) as RecordedJob)
    for (const move of history.moves) {
      if (!known.has(move.id)) {
        known.set(move.id, move)
      }
    }
    const works =
      added.length === 0
        ? history.works
        : [...history.works, { posting: added[0]!.posting, day: added[0]!.day, work: fresh.work }]
    jobs.set(key, { works, moves: [...history.moves, ...added], closings: history.closings })
  }

  /** What comes out of a job from a move on may cost something else now. */
  function* openMade(move: CostMove): Generator<HistoryRequest, void, PoolHistory | RecordedJob> {
    yield* openJob(move.job!)
    for (const made of jobs.get(move.job!)!.moves) {
      if ((made.basis === 'share' || made.basis === 'part') && made.to !== null && inOrder(move, made) < 0) {
        yield* open(made.to, { move: known.get(made.id)! })
      }
    }
  }

  for (const key of new Set(fresh.moves.map((move) => move.job))) {
    if (key !== null) {
      yield* openJob(key)
    }
  }
  for (const { pool, from } of changed) {
    yield* open(pool, from === null ? null : { move: from })
  }
  for (const move of [...fresh.moves].sort(inOrder)) {
    for (const end of [move.from, move.to]) {
      if (end !== null) {
        yield* open(end, { move: known.get(move.id)! })
      }
    }
  }
  for (let first = queue.pop(); first !== undefined; first = queue.pop()) {
    const { key, event } = first
    const own = worked.get(key)!
    if (own.events[own.next] !== event) {
      continue
    }
    if ('standard' in event) {
      standards.push({
        pool: key,
        posting: event.standard.posting,
        day: event.standard.day,
        now: own.pool.restate(event.standard.unit),
        before: event.standard.gained,
      })
      own.next++
      queueNext(key, own)
      continue
    }
    const { move } = event
    if (move.from !== null && move.from === move.to) {
      now.set(move.id, valueMove(move, context))
      own.next++
      queueNext(key, own)
      continue
    }
    if (move.from !== null && move.to !== null && (move.basis === 'back' || isFresh.has(move.id))) {
      for (const end of [move.from, move.to]) {
        yield* open(end, event)
      }
    }
    const from = move.from === null ? undefined : worked.get(move.from)
    if (from?.pool.lacks(move.quantity)) {
      return refuse({
        code: 'lacked-then',
        pool: move.from!,
        day: move.day,
        move: move.id,
        wanted: move.quantity,
        there: from.pool.state.quantity,
      })
    }
    let out
    if (move.from === null) {
      out = null
    } else if (from === undefined) {
      out = { value: otherEnd(move.amounts), variance: 0n, restated: 0n }
    } else {
      out = leaving(move, context)
    }
    if (move.to !== null && out !== null && out.value !== otherEnd(move.amounts)) {
      yield* open(move.to, event)
    }
    let amounts
    if (move.to === null) {
      amounts = out!
    } else if (worked.has(move.to)) {
      amounts = entering(move, out, context)
    } else {
      amounts = move.amounts
    }
    now.set(move.id, amounts)
    if (
      move.job !== null &&
      (move.to === null || move.basis === 'back') &&
      otherEnd(amounts) !== otherEnd(move.amounts) &&
      !isFresh.has(move.id)
    ) {
      yield* openMade(move)
    }
    for (const end of new Set([move.from, move.to])) {
      const entry = end === null ? undefined : worked.get(end)
      const timing = entry?.events[entry.next]
      if (entry === undefined || timing === undefined || !('move' in timing) || timing.move.id !== move.id) {
        continue
      }
      entry.next++
      queueNext(end!, entry)
    }
  }

  const closings = [...jobs.values()].flatMap((job) => {
    if (job.closings.length === 0) {
      return []
    }
    const { written } = shareWork(job, amountsOf)
    return job.closings.map((closing) => ({
      posting: closing.posting,
      day: closing.day,
      now: written.get(closing.posting)!,
      before: closing.written,
    }))
  })
  const moves = new Map(
    [...now].flatMap(([id, after]) => {
      const move = known.get(id)!
      const before = isFresh.has(id) ? null : move.amounts
      return before !== null && same(before, after) ? [] : [[id, { now: after, before, move }] as const]
    }),
  )
  return ok({
    moves,
    standards: standards.filter((standard) => standard.now !== standard.before),
    closings: closings.filter((closing) => closing.now !== closing.before),
    pools: new Map([...worked].map(([key, entry]) => [key, entry.pool.state])),
  })
}

/** Takes one recorded move through its pool; what lies at its other end stands by as it was recorded. */
function goThrough(key: string, pool: CostPool, event: Event, known: ReadonlyMap<string, RecordedMove>): void {
  if ('standard' in event) {
    pool.restate(event.standard.unit)
    return
  }
  const move = { ...event.move, stated: otherEnd(event.move.amounts) }
  const farPool = new CostPool({
    ...emptyPool('moving average'),
    quantity: move.quantity,
    value: otherEnd(move.amounts),
  })
  valueMove(move, {
    pool: (end) => (end === key ? pool : farPool),
    amountsOf: (id) => known.get(id)?.amounts ?? move.amounts,
    shareOf: () => otherEnd(move.amounts),
  })
}

const same = (a: Amounts, b: Amounts): boolean =>
  a.value === b.value && a.variance === b.variance && a.restated === b.restated

/** A new standard counts from the morning on; then the moves of the day. */
function order(a: Event, b: Event): number {
  const [entry, farPool] = [position(a), position(b)]
  if (entry.day !== farPool.day) {
    return entry.day < farPool.day ? -1 : 1
  }
  if ('standard' in a || 'standard' in b) {
    return Number('standard' in b) - Number('standard' in a) || entry.posting - farPool.posting
  }
  return inOrder(a.move, b.move)
}

const position = (event: Event): { day: string; posting: number } => ('move' in event ? event.move : event.standard)
