import { groupBy } from '../group-by'
import { cutExactly, EXACT_STEPS, exactSteps } from './exact'
import {
  count,
  costOf,
  restOf,
  type Counted,
  type Cut,
  type CuttingProblem,
  type Pattern,
  type StockLength,
  type WantedLength,
} from './problem'
import { relax } from './relax'
import { plainBound, search } from './search'

/** What comes of one piece. */
export interface CutPiece extends Cut {
  readonly length: number
  readonly wanted: number
  readonly kerf: number
  readonly rest: number
  readonly isKept: boolean
}
/** A way of cutting, with what it uses up. Whole finest steps of the length. */
export interface CuttingPlan {
  readonly cuts: readonly CutPiece[]
  /** Lengths that no piece could give. */
  readonly missing: readonly { readonly id: string; readonly count: number }[]
  /** What is used up of the stock: lengths, cuts and waste; kept offcuts are not. */
  readonly consumed: number
  readonly wanted: number
  readonly kept: number
  /** No way of cutting the same lengths from the same pieces uses up less. */
  readonly bound: number
  readonly isExact: boolean
}

/**
 * Proposes which pieces to cut into what, so that least is wasted; offcuts of at least `keep` go back to stock.
 *
 * Exact where the job is small enough, else with a bound that says how near it is. Where each job's lengths must come
 * from one lot, every way of giving jobs to lots is tried, or, where there are very many, the largest job chooses
 * first.
 * Units:  whole finest steps.
 * Errors: throws on lengths that are not whole or not above zero.
 */
export function proposeCuts(problem: CuttingProblem): CuttingPlan {
  for (const length of [...problem.wanted.map((cut) => cut.length), ...problem.stock.map((piece) => piece.length)]) {
    if (!Number.isSafeInteger(length) || length <= 0) {
      throw new Error(`A length of ${length} steps`)
    }
  }
  if (!problem.oneLotPerJob) {
    return solve(problem)
  }
  const jobs = [...groupBy(problem.wanted, (entry) => entry.job).values()].sort((a, b) => total(b) - total(a))
  const lots = [...groupBy(problem.stock, (entry) => entry.lot ?? entry.id).values()]
  if (lots.length === 0) {
    return solve(problem)
  }
  if (lots.length ** jobs.length <= 81) {
    return every(lots.length, jobs.length)
      .map((lotOf) => together(problem, lots, jobs, lotOf))
      .reduce(better)
  }
  const lotOf: number[] = []
  for (const index of jobs.keys()) {
    const tried = lots.map((_, lot) => together(problem, lots, jobs.slice(0, index + 1), [...lotOf, lot]))
    lotOf.push(tried.indexOf(tried.reduce(better)))
  }
  return together(problem, lots, jobs, lotOf)
}

const total = (wanted: readonly WantedLength[]): number => wanted.reduce((sum, cut) => sum + cut.length * cut.count, 0)
const lacking = (plan: CuttingPlan): number => plan.missing.reduce((sum, shortfall) => sum + shortfall.count, 0)
const better = (a: CuttingPlan, b: CuttingPlan): CuttingPlan =>
  lacking(b) < lacking(a) || (lacking(b) === lacking(a) && b.consumed < a.consumed) ? b : a
const every = (lots: number, jobs: number): number[][] =>
  jobs === 0 ? [[]] : every(lots, jobs - 1).flatMap((rest) => Array.from({ length: lots }, (_, lot) => [...rest, lot]))

/** Jobs that were given to the same lot are cut together. */
function together(
  problem: CuttingProblem,
  lots: readonly (readonly StockLength[])[],
  jobs: readonly (readonly WantedLength[])[],
  lotOf: readonly number[],
): CuttingPlan {
  const plans = lots.flatMap((stock, lot) => {
    const wanted = jobs.filter((_, job) => lotOf[job] === lot).flat()
    return wanted.length > 0 ? [solve({ ...problem, stock, wanted })] : []
  })
  return {
    cuts: plans.flatMap((plan) => plan.cuts),
    missing: plans.flatMap((plan) => plan.missing),
    consumed: sum(plans, 'consumed'),
    wanted: sum(plans, 'wanted'),
    kept: sum(plans, 'kept'),
    bound: sum(plans, 'bound'),
    isExact: plans.every((plan) => plan.isExact),
  }
}
const sum = (plans: readonly CuttingPlan[], key: 'consumed' | 'wanted' | 'kept' | 'bound'): number =>
  plans.reduce((all, plan) => all + plan[key], 0)

function solve(problem: CuttingProblem): CuttingPlan {
  const counted = count(problem)
  if (exactSteps(counted) <= EXACT_STEPS) {
    const patterns = cutExactly(counted)
    if (patterns) {
      const plan = evaluate(problem, asCuts(counted, patterns))
      return { ...plan, bound: plan.consumed, isExact: true }
    }
  }
  const found = search(counted)
  const plan = evaluate(problem, asCuts(counted, found.patterns))
  const bound = found.missing.every((n) => n === 0) ? found.bound : boundOfCut(counted, found.missing)
  return {
    ...plan,
    bound: Math.min(bound, plan.consumed),
    isExact: plan.missing.length === 0 && plan.consumed <= bound,
  }
}

/** The bound for what can be given alone. */
function boundOfCut(counted: Counted, missing: readonly number[]): number {
  const lengths = counted.lengths
    .map((length, index) => ({ ...length, count: length.count - missing[index]! }))
    .filter((length) => length.count > 0)
  return lengths.length === 0
    ? 0
    : Math.max(plainBound({ ...counted, lengths }), relax({ ...counted, lengths }, 25).bound)
}

/** Names the pieces and lengths again. */
function asCuts(counted: Counted, patterns: readonly Pattern[]): Cut[] {
  const [pieces, parts] = [
    counted.pieces.map((piece) => [...piece.ids]),
    counted.lengths.map((length) => [...length.ids]),
  ]
  return patterns.map((pattern) => ({
    stock: pieces[pattern.piece]!.shift()!,
    parts: pattern.counts.flatMap(([length, n]) => parts[length]!.splice(0, n)),
  }))
}

/**
 * What a way of cutting comes to: what each piece gives, what is left of it and what is missing. For a proposal, and
 * for one that a person has changed.
 *
 * Errors: throws where a piece or a length is not in the problem; a piece that gives more than it has shows a rest
 *         below zero.
 */
export function evaluate(problem: CuttingProblem, cuts: readonly Cut[]): CuttingPlan {
  const lengths = new Map(problem.wanted.map((cut) => [cut.id, cut]))
  const left = new Map(problem.wanted.map((cut) => [cut.id, cut.count]))
  const pieces = cuts
    .filter((cut) => cut.parts.length > 0)
    .map((cut): CutPiece => {
      const stock = problem.stock.find((piece) => piece.id === cut.stock)
      if (!stock) {
        throw new Error(`No piece ${cut.stock}`)
      }
      const wanted = cut.parts.reduce((all, id) => {
        left.set(id, left.get(id)! - 1)
        return all + lengths.get(id)!.length
      }, 0)
      const used = wanted + problem.kerf * cut.parts.length
      const over = used > stock.length + problem.kerf
      const rest = over ? stock.length - used : restOf(stock.length, used)
      return {
        ...cut,
        length: stock.length,
        wanted,
        kerf: Math.min(problem.kerf * cut.parts.length, stock.length - wanted),
        rest,
        isKept: rest > 0 && rest >= problem.keep,
      }
    })
  const kept = pieces.reduce((all, piece) => all + (piece.isKept ? piece.rest : 0), 0)
  return {
    cuts: pieces,
    missing: [...left].filter(([, n]) => n > 0).map(([id, n]) => ({ id, count: n })),
    consumed: pieces.reduce(
      (all, piece) => all + costOf(piece.length, piece.wanted + problem.kerf * piece.parts.length, problem.keep),
      0,
    ),
    wanted: pieces.reduce((all, piece) => all + piece.wanted, 0),
    kept,
    bound: 0,
    isExact: false,
  }
}
