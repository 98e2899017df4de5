import { ratio, type Ratio } from '../units/exact'
import { emptyPool, type Amounts, type CostMethod, type PoolState } from './cost-pool'
import { NEW_JOB, revalue } from './revalue'
import type { RecordedJob, RecordedMove, StandardChange } from './histories'
import { otherEnd, type Basis, type CostMove } from './value-moves'
import { shareWork, type Closing } from './share-work'

/** A ledger in memory that answers what `revalue` asks. */
export class Ledger {
  moves: RecordedMove[] = []
  readonly work = new Map<number, bigint>()
  readonly pools = new Map<string, PoolState>()
  readonly standards = new Map<string, StandardChange[]>()
  closings: (Closing & { job: string })[] = []
  private postings = 0
  constructor(
    private readonly methodOf: (pool: string) => CostMethod,
    private readonly unit: Ratio | null = null,
  ) {}

  post(day: string, lines: readonly Line[], work = 0n): RecordedMove[] | 'lacked-then' {
    const posting = ++this.postings
    const fresh = lines.map((line, index): CostMove => ({
      id: `${posting}.${index}`,
      day,
      posting,
      line: index,
      from: line.from ?? null,
      to: line.to ?? null,
      quantity: ratio(line.quantity),
      basis: line.basis ?? (line.from ? 'method' : 'stated'),
      stated: line.stated ?? 0n,
      weight: ratio(line.weight ?? 1),
      of: line.of ?? null,
      isPurchasePrice: line.isPurchasePrice ?? line.basis !== 'back',
      job: line.job === 'own' ? NEW_JOB : (line.job ?? null),
    }))
    const done = this.run([], { moves: fresh, work })
    if (done === 'lacked-then') {
      return done
    }
    this.work.set(posting, work)
    this.moves.push(
      ...fresh.map((move) => ({
        ...move,
        job: move.job === NEW_JOB ? `posting/${posting}` : move.job,
        amounts: done.get(move.id)!,
      })),
    )
    return this.moves.slice(-fresh.length)
  }

  reverse(posting: number, day: string): RecordedMove[] | 'lacked-then' {
    const lines = this.moves.filter((move) => move.posting === posting)
    return this.post(
      day,
      lines.map((move) => ({
        quantity: move.quantity,
        ...(move.to !== null && { from: move.to }),
        ...(move.from !== null && { to: move.from }),
        basis: 'back',
        of: move.id,
        isPurchasePrice: false,
        ...(move.job !== null && { job: move.job }),
      })),
      -(this.work.get(posting) ?? 0n),
    )
  }

  invoice(id: string, stated: bigint): void {
    this.invoices([[id, stated]])
  }

  /** One invoice for several receipts, in whatever order they are named. */
  invoices(lines: readonly (readonly [id: string, stated: bigint])[]): void {
    const stated = new Map(lines)
    this.moves = this.moves.map((move) => (stated.has(move.id) ? { ...move, stated: stated.get(move.id)! } : move))
    this.run(
      lines.map(([id]) => {
        const move = this.moves.find((entry) => entry.id === id)!
        return { pool: move.to!, from: move }
      }),
    )
  }

  run(
    changed: Parameters<typeof revalue>[0],
    fresh: Parameters<typeof revalue>[1] = { moves: [], work: 0n },
  ): Map<string, Amounts> | 'lacked-then' {
    const work = revalue(changed, fresh)
    let step = work.next()
    while (!step.done) {
      const asked = step.value
      step = work.next(
        asked.kind === 'pool'
          ? {
              start: emptyPool(this.methodOf(asked.key), this.unit),
              moves: this.moves.filter((move) => move.from === asked.key || move.to === asked.key),
              standards: this.standards.get(asked.key) ?? [],
            }
          : this.job(asked.key),
      )
    }
    if (!step.value.ok) {
      return step.value.error.code
    }
    const { moves, pools, standards, closings } = step.value.value
    for (const closing of closings) {
      this.closings = this.closings.map((known) =>
        known.posting === closing.posting ? { ...known, written: closing.now } : known,
      )
    }
    this.moves = this.moves.map((move) => (moves.has(move.id) ? { ...move, amounts: moves.get(move.id)!.now } : move))
    for (const standard of standards) {
      this.standards.set(
        standard.pool,
        this.standards
          .get(standard.pool)!
          .map((s) => (s.posting === standard.posting ? { ...s, gained: standard.now } : s)),
      )
    }
    for (const [key, state] of pools) {
      this.pools.set(key, state)
    }
    return new Map([...moves].map(([id, entry]) => [id, entry.now]))
  }

  job(key: string): RecordedJob {
    const moves = this.moves.filter((move) => move.job === key)
    const works = [
      ...new Map(
        moves.map((move) => [
          move.posting,
          { posting: move.posting, day: move.day, work: this.work.get(move.posting)! },
        ]),
      ).values(),
    ]
    return { works, moves, closings: this.closings.filter((closing) => closing.job === key) }
  }

  inWork(key: string): bigint {
    return shareWork(this.job(key), (id) => this.moves.find((move) => move.id === id)!.amounts).left
  }

  /** Writes off what is still in a job. */
  close(key: string, day: string): bigint {
    const written = this.inWork(key)
    this.closings.push({ job: key, posting: ++this.postings, day, written })
    return written
  }

  value(pool: string): bigint {
    let moved = 0n
    for (const { from, to, basis, amounts } of this.moves) {
      if (to === pool && from !== pool) {
        moved += amounts.value
      }
      if (from === pool && to !== pool) {
        moved -= to === null ? amounts.value : otherEnd(amounts)
      }
      const restatedAt = basis === 'back' && from !== null ? from : (to ?? from)
      if (restatedAt === pool) {
        moved += amounts.restated
      }
    }
    return (this.standards.get(pool) ?? []).reduce((sum, standard) => sum + standard.gained, moved)
  }
}
export interface Line {
  quantity: number | string | Ratio
  from?: string
  to?: string
  stated?: bigint
  basis?: Basis
  of?: string
  weight?: number | Ratio
  isPurchasePrice?: boolean
  job?: string
}
