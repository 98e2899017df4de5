import TinyQueue from 'tinyqueue'
import { ok, refuse, type Result } from '../result'
import { CostPool, type Amounts } from './cost-pool'
import { goThrough, order, same, type Event } from './events'
import type { Minor } from './moving-average'
import type { RecordedMove, PoolHistory, RecordedJob, HistoryRequest, Revaluation, LackedThen } from './histories'
import { shareWork, type JobHistory } from './share-work'
import { entering, inOrder, leaving, otherEnd, valueMove, type CostMove, type ValueContext } from './value-moves'

interface Worked {
  readonly pool: CostPool
  readonly events: readonly Event[]
  next: number
}

/** The job of a posting that is not recorded yet and belongs to none that is. */
export const NEW_JOB = 'new'

const NOTHING: Amounts = { value: 0n, variance: 0n, restated: 0n }

/**
 * Works out again what moves are worth, from the first that may be worth something else on, and follows the difference
 * wherever it goes: into what was built from the goods, moved to another site, or sold.
 *
 * A generator: it asks for the histories that it turns out to need, and goes on when it is given them; so it reads
 * nothing itself.
 * Shape:  `changed` names pools where something is new from a move on, or from the beginning (null); `fresh` are the
 *         moves of a posting
 *         that no history has yet, and the work that it adds to their job. 'with jobs': every job that goods of the
 *         pools went into or came from
 *         is worked out again too, not only those in which something changed.
 * Errors: `lacked-then` where a move would take more than its pool held on its day.
 * Cost:   each move of each pool that is reached is gone through once.
 */
export function* revalue(
  changed: readonly { readonly pool: string; readonly from: RecordedMove | null }[],
  fresh: FreshMoves,
  jobs: JobsOpened = 'where goods changed',
): Reading<Result<Revaluation, LackedThen>> {
  const revaluer = new Revaluer(fresh, jobs)
  yield* revaluer.begin(changed)
  for (let entry = revaluer.next(); entry !== undefined; entry = revaluer.next()) {
    const lacked = yield* revaluer.work(entry.key, entry.event)
    if (lacked) {
      return refuse(lacked)
    }
  }
  return ok(revaluer.result())
}

type JobsOpened = 'where goods changed' | 'with jobs'

interface FreshMoves {
  readonly moves: readonly CostMove[]
  readonly work: Minor
}
/** Goes on when it is given the history that it asks for. */
type Reading<T = void> = Generator<HistoryRequest, T, PoolHistory | RecordedJob>

class Revaluer {
  private readonly worked = new Map<string, Worked>()
  private readonly now = new Map<string, Amounts>()
  private readonly known: Map<string, RecordedMove>
  private readonly freshIds: ReadonlySet<string>
  private readonly jobs = new Map<string, JobHistory>()
  private readonly standards: Revaluation['standards'][number][] = []
  /**
   * What is to be gone through next in each pool that is worked, and from when on others are to be opened: all in the
   * order of their days.
   */
  private readonly queue = new TinyQueue<{ key: string; event: Event }>([], (a, b) => order(a.event, b.event))
  private readonly context: ValueContext

  constructor(
    private readonly fresh: FreshMoves,
    private readonly jobsOpened: JobsOpened,
  ) {
    this.known = new Map(fresh.moves.map((move) => [move.id, { ...move, amounts: NOTHING }]))
    this.freshIds = new Set(this.known.keys())
    this.context = {
      pool: (key) => this.worked.get(key)!.pool,
      amountsOf: (id) => this.amountsOf(id),
      shareOf: (move) => this.shareOf(move),
    }
  }

  *begin(changed: readonly { readonly pool: string; readonly from: RecordedMove | null }[]): Reading {
    for (const key of new Set(this.fresh.moves.map((move) => move.job))) {
      if (key !== null) {
        yield* this.openJob(key)
      }
    }
    for (const { pool, from } of changed) {
      if (from === null) {
        yield* this.open(pool, null)
      } else {
        this.openLater(pool, { move: from })
      }
    }
    for (const move of this.fresh.moves) {
      for (const end of [move.from, move.to]) {
        if (end !== null) {
          this.openLater(end, { move: this.known.get(move.id)! })
        }
      }
    }
  }

  /**
   * Has a pool opened when its time comes: opened sooner it would stand at a day that other pools have not reached, and
   * miss what they still pass on to it.
   */
  private openLater(key: string, event: Event): void {
    if (!this.worked.has(key)) {
      this.queue.push({ key, event })
    }
  }

  /** The next event to be gone through; undefined when all have been. */
  next(): { readonly key: string; readonly event: Event } | undefined {
    for (let first = this.queue.pop(); first !== undefined; first = this.queue.pop()) {
      const own = this.worked.get(first.key)
      if (own === undefined || own.events[own.next] === first.event) {
        return first
      }
    }
    return undefined
  }

  /**
   * Goes through one event, or opens the pool that is to be opened with it, and opens what it changes; what is lacked
   * is answered.
   */
  *work(key: string, event: Event): Reading<LackedThen | null> {
    const own = this.worked.get(key)
    if (own === undefined) {
      yield* this.open(key, event)
      return null
    }
    if ('standard' in event) {
      const { posting, day, unit, gained } = event.standard
      this.standards.push({ pool: key, posting, day, now: own.pool.restate(unit), before: gained })
      this.pass(key, own)
      return null
    }
    if (event.move.from !== null && event.move.from === event.move.to) {
      this.now.set(event.move.id, valueMove(event.move, this.context))
      this.pass(key, own)
      return null
    }
    return yield* this.workMove(event.move, event)
  }

  private *workMove(move: RecordedMove, event: Event): Reading<LackedThen | null> {
    if (move.from !== null && move.to !== null && (move.basis === 'back' || this.freshIds.has(move.id))) {
      yield* this.openEnds(move, event)
    }
    const lacked = this.lackedBy(move)
    if (lacked) {
      return lacked
    }
    const out = this.valueOut(move)
    if (move.to !== null && out !== null && out.value !== otherEnd(move.amounts)) {
      yield* this.open(move.to, event)
    }
    const amounts = this.valueIn(move, out)
    this.now.set(move.id, amounts)
    if (this.changesJob(move, amounts)) {
      yield* this.openMade(move)
    }
    this.passEnds(move)
    return null
  }

  result(): Revaluation {
    const moves = new Map(
      [...this.now].flatMap(([id, after]) => {
        const move = this.known.get(id)!
        const before = this.freshIds.has(id) ? null : move.amounts
        return before !== null && same(before, after) ? [] : [[id, { now: after, before, move }] as const]
      }),
    )
    return {
      moves,
      standards: this.standards.filter((standard) => standard.now !== standard.before),
      closings: this.closings().filter((closing) => closing.now !== closing.before),
      pools: new Map([...this.worked].map(([key, entry]) => [key, entry.pool.state])),
    }
  }

  private closings(): Revaluation['closings'] {
    return [...this.jobs.values()].flatMap((job) => {
      if (job.closings.length === 0) {
        return []
      }
      const { written } = shareWork(job, this.context.amountsOf)
      return job.closings.map((closing) => ({
        posting: closing.posting,
        day: closing.day,
        now: written.get(closing.posting)!,
        before: closing.written,
      }))
    })
  }

  private amountsOf(id: string): Amounts {
    return this.now.get(id) ?? this.known.get(id)?.amounts ?? NOTHING
  }

  private shareOf(move: CostMove): Minor {
    const job = move.job === null ? undefined : this.jobs.get(move.job)
    return job === undefined
      ? otherEnd(this.known.get(move.id)!.amounts)
      : shareWork(job, this.context.amountsOf).shares.get(move.id)!
  }

  private know(moves: readonly RecordedMove[]): void {
    for (const move of moves) {
      if (!this.known.has(move.id)) {
        this.known.set(move.id, move)
      }
    }
  }

  private *open(key: string, from: Event | null): Reading {
    if (this.worked.has(key)) {
      return
    }
    const history = (yield { kind: 'pool', key }) as PoolHistory
    this.know(history.moves)
    if (this.jobsOpened === 'with jobs') {
      for (const { job } of history.moves) {
        if (job !== null) {
          yield* this.openJob(job)
        }
      }
    }
    const added = this.fresh.moves.filter((move) => move.from === key || move.to === key)
    const events: Event[] = [...history.moves.filter((move) => move.from !== move.to), ...added].map((move) => ({
      move: this.known.get(move.id)!,
    }))
    events.push(...history.standards.map((standard) => ({ standard })))
    events.sort(order)
    const opened: Worked = { pool: new CostPool(history.start), events, next: 0 }
    this.worked.set(key, opened)
    // What came before is gone through as it was recorded: nothing there has changed.
    while (from !== null && opened.next < events.length && order(events[opened.next]!, from) < 0) {
      goThrough(key, opened.pool, events[opened.next++]!, this.known)
    }
    this.queueNext(key, opened)
  }

  private *openEnds(move: CostMove, event: Event): Reading {
    for (const end of [move.from, move.to]) {
      if (end !== null) {
        yield* this.open(end, event)
      }
    }
  }

  private *openJob(key: string): Reading {
    if (this.jobs.has(key)) {
      return
    }
    const added = this.fresh.moves.filter((move) => move.job === key)
    const history =
      key === NEW_JOB ? { works: [], moves: [], closings: [] } : ((yield { kind: 'job', key }) as RecordedJob)
    this.know(history.moves)
    const works =
      added.length === 0
        ? history.works
        : [...history.works, { posting: added[0]!.posting, day: added[0]!.day, work: this.fresh.work }]
    this.jobs.set(key, { works, moves: [...history.moves, ...added], closings: history.closings })
  }

  /** What comes out of a job from a move on may cost something else now. */
  private *openMade(move: CostMove): Reading {
    yield* this.openJob(move.job!)
    for (const made of this.jobs.get(move.job!)!.moves) {
      if ((made.basis === 'share' || made.basis === 'part') && made.to !== null && inOrder(move, made) < 0) {
        this.openLater(made.to, { move: this.known.get(made.id)! })
      }
    }
  }

  private lackedBy(move: RecordedMove): LackedThen | null {
    const from = move.from === null ? undefined : this.worked.get(move.from)
    if (!from?.pool.lacks(move.quantity)) {
      return null
    }
    return {
      code: 'lacked-then',
      pool: move.from!,
      day: move.day,
      move: move.id,
      wanted: move.quantity,
      there: from.pool.state.quantity,
    }
  }

  /**
   * What it takes out of its pool; as it was recorded where that pool is not reached, null where it comes from outside.
   */
  private valueOut(move: RecordedMove): Amounts | null {
    if (move.from === null) {
      return null
    }
    return this.worked.has(move.from)
      ? leaving(move, this.context)
      : { value: otherEnd(move.amounts), variance: 0n, restated: 0n }
  }

  private valueIn(move: RecordedMove, out: Amounts | null): Amounts {
    if (move.to === null) {
      return out!
    }
    return this.worked.has(move.to) ? entering(move, out, this.context) : move.amounts
  }

  private changesJob(move: RecordedMove, amounts: Amounts): boolean {
    return (
      move.job !== null &&
      (move.to === null || move.basis === 'back') &&
      otherEnd(amounts) !== otherEnd(move.amounts) &&
      !this.freshIds.has(move.id)
    )
  }

  /** Both of its pools go on to what comes after it. */
  private passEnds(move: RecordedMove): void {
    for (const end of new Set([move.from, move.to])) {
      const entry = end === null ? undefined : this.worked.get(end)
      const event = entry?.events[entry.next]
      if (entry !== undefined && event !== undefined && 'move' in event && event.move.id === move.id) {
        this.pass(end!, entry)
      }
    }
  }

  private pass(key: string, entry: Worked): void {
    entry.next++
    this.queueNext(key, entry)
  }

  private queueNext(key: string, entry: Worked): void {
    if (entry.next < entry.events.length) {
      this.queue.push({ key, event: entry.events[entry.next]! })
    }
  }
}
