import { cutExactly, exactSteps } from './exact'
import { Knapsack, patternOf } from './patterns'
import { restOf, type Counted, type Pattern } from './problem'
import { relax } from './relax'

/** What is still wanted of each kind of length, and still there of each kind of piece. */
interface Open {
  readonly wanted: number[]
  readonly there: number[]
}
const openOf = (problem: Counted): Open => ({
  wanted: problem.lengths.map((length) => length.count),
  there: problem.pieces.map((piece) => piece.ids.length),
})
const costs = (patterns: readonly Pattern[]): number => patterns.reduce((sum, pattern) => sum + pattern.cost, 0)

/** Takes a pattern as often as what is open allows, at most `times`. */
function take(open: Open, pattern: Pattern, times: number, into: Pattern[]): void {
  for (
    ;
    times > 0 && open.there[pattern.piece]! > 0 && pattern.counts.every(([length, n]) => open.wanted[length]! >= n);
    times--
  ) {
    open.there[pattern.piece]!--
    for (const [length, n] of pattern.counts) {
      open.wanted[length]! -= n
    }
    into.push(pattern)
  }
}

/**
 * Fills piece after piece as fully as can be, long lengths before short ones, until nothing is wanted or nothing fits.
 */
function fill(problem: Counted, open: Open, bias: number): Pattern[] {
  const found: Pattern[] = []
  const longest = Math.max(1, ...problem.lengths.map((length) => length.size))
  while (open.wanted.some((n) => n > 0)) {
    const worth = problem.lengths.map((length) => length.size * (1 + (bias * length.size) / longest))
    const knapsack = new Knapsack(problem, worth, open.wanted)
    let best: { pattern: Pattern; score: number } | null = null
    for (const [piece, n] of open.there.entries()) {
      if (n === 0) {
        continue
      }
      const entry = knapsack.bestFor(piece)
      if (!entry) {
        continue
      }
      const waste = entry.pattern.cost - entry.pattern.used
      const score =
        waste / entry.pattern.used -
        (bias * entry.pattern.counts.reduce((sum, [length, m]) => sum + m * problem.lengths[length]!.size ** 2, 0)) /
          entry.pattern.used /
          longest
      if (!best || score < best.score) {
        best = { pattern: entry.pattern, score }
      }
    }
    if (!best) {
      break
    }
    take(open, best.pattern, Infinity, found)
  }
  return found
}

/**
 * Longest length first, into the piece where it leaves least; a new piece, the shortest that does, where it fits
 * nowhere.
 */
function fit(problem: Counted, open: Open): Pattern[] {
  const begun: { piece: number; used: number; counts: Map<number, number> }[] = []
  for (const [length, entry] of problem.lengths.entries()) {
    for (; open.wanted[length]! > 0; open.wanted[length]!--) {
      const room = begun
        .filter((b) => b.used + entry.size <= problem.pieces[b.piece]!.length + problem.kerf)
        .sort(
          (a, b) => restOf(problem.pieces[a.piece]!.length, a.used) - restOf(problem.pieces[b.piece]!.length, b.used),
        )[0]
      const piece = open.there.findIndex((n, slot) => n > 0 && problem.pieces[slot]!.length >= entry.length)
      if (!room && piece < 0) {
        break
      }
      if (!room) {
        open.there[piece]!--
      }
      const position = room ?? (begun.push({ piece, used: 0, counts: new Map() }), begun.at(-1)!)
      position.used += entry.size
      position.counts.set(length, (position.counts.get(length) ?? 0) + 1)
    }
  }
  return begun.map((b) => patternOf(problem, b.piece, [...b.counts]))
}

/** Numbers that look thrown, and are the same every time. */
function stream(seed: number): (below: number) => number {
  let state = seed
  return (below) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return Math.floor((state / 4294967296) * below)
  }
}

/** Cuts a few pieces anew, exactly, with a few that were not begun; keeps what is better. */
function improve(problem: Counted, found: Pattern[], bound: number, rounds: number): Pattern[] {
  const next = stream(7)
  let best = found
  for (let round = 0; round < rounds && costs(best) > bound; round++) {
    const wasteful = [...best.keys()].sort((a, b) => best[b]!.cost - best[b]!.used - (best[a]!.cost - best[a]!.used))
    const chosen = new Set<number>()
    const first = wasteful[next(Math.min(wasteful.length, 6))]!
    for (let n = 0, parts = 0; n < 12 && chosen.size < 4; n++) {
      const slot = n === 0 ? first : next(best.length)
      const more = best[slot]!.counts.reduce((sum, [, m]) => sum + m, 0)
      if (chosen.has(slot) || parts + more > 11) {
        continue
      }
      chosen.add(slot)
      parts += more
    }
    if (chosen.size === 0) {
      continue
    }
    const own = [...chosen].map((slot) => best[slot]!)
    const free = problem.pieces.map(
      (piece, slot) => piece.ids.length - best.filter((entry) => entry.piece === slot).length,
    )
    const spare = Array.from({ length: 2 }, () => next(problem.pieces.length)).filter((slot) => free[slot]! > 0)
    const small = part(problem, own, spare)
    if (exactSteps(small.problem) > 600_000) {
      continue
    }
    const better = cutExactly(small.problem)?.map((entry) => small.whole(entry))
    if (better && costs(better) < costs(own)) {
      best = [...best.filter((_, slot) => !chosen.has(slot)), ...better]
    }
  }
  return best
}

/** The problem of a few patterns alone, with some more pieces; and the way back. */
function part(
  problem: Counted,
  own: readonly Pattern[],
  spare: readonly number[],
): { problem: Counted; whole: (pattern: Pattern) => Pattern } {
  const wanted = new Map<number, number>()
  for (const entry of own) {
    for (const [length, n] of entry.counts) {
      wanted.set(length, (wanted.get(length) ?? 0) + n)
    }
  }
  const there = new Map<number, number>()
  for (const piece of [...own.map((entry) => entry.piece), ...new Set(spare)]) {
    there.set(piece, (there.get(piece) ?? 0) + 1)
  }
  const [lengths, pieces] = [[...wanted].sort(([a], [b]) => a - b), [...there].sort(([a], [b]) => a - b)]
  return {
    problem: {
      ...problem,
      lengths: lengths.map(([slot, n]) => ({ ...problem.lengths[slot]!, count: n })),
      pieces: pieces.map(([slot, n]) => ({
        length: problem.pieces[slot]!.length,
        ids: Array.from({ length: n }, () => ''),
      })),
    },
    whole: (entry) =>
      patternOf(
        problem,
        pieces[entry.piece]![0],
        entry.counts.map(([length, n]) => [lengths[length]![0], n] as const),
      ),
  }
}

/**
 * Chooses pieces that together measure just what is wanted and a little more, for where what is left over is lost;
 * fills these alone.
 */
function choose(problem: Counted, spare: number): { open: Open; found: Pattern[] } {
  const open = openOf(problem)
  const target = Math.ceil(problem.lengths.reduce((sum, length) => sum + length.size * length.count, 0) * (1 + spare))
  const grain = Math.max(
    1,
    Math.ceil(
      problem.pieces.reduce((sum, piece) => sum + (piece.length + problem.kerf) * piece.ids.length, 0) / 60_000,
    ),
  )
  const rooms = problem.pieces.flatMap((piece, kind) =>
    piece.ids.map(() => ({ kind, cells: Math.floor((piece.length + problem.kerf) / grain) })),
  )
  const cells = rooms.reduce((sum, room) => sum + room.cells, 0)
  /** Which piece was the last to reach a sum, counted from 1. */
  const reached = new Int32Array(cells + 1)
  reached[0] = -1
  rooms.forEach((room, slot) => {
    for (let cell = cells; cell >= room.cells; cell--) {
      if (reached[cell] === 0 && reached[cell - room.cells] !== 0) {
        reached[cell] = slot + 1
      }
    }
  })
  let sum = Math.ceil(target / grain)
  while (sum <= cells && reached[sum] === 0) {
    sum++
  }
  if (sum > cells) {
    return { open, found: [] }
  }
  const there = problem.pieces.map(() => 0)
  for (let cell = sum; cell > 0; cell -= rooms[reached[cell]! - 1]!.cells) {
    there[rooms[reached[cell]! - 1]!.kind]!++
  }
  const chosen: Open = { wanted: open.wanted, there }
  const found = fill(problem, chosen, 0.3)
  for (const match of found) {
    open.there[match.piece]!--
  }
  return { open, found: [...found, ...fill(problem, open, 0)] }
}

export interface Searched {
  readonly patterns: readonly Pattern[]
  readonly missing: readonly number[]
  readonly bound: number
}

/** No piece is used up by less than its lengths and all cuts but one. */
export function plainBound(problem: Counted, missing: readonly number[] = []): number {
  const [sizes, lengths] = ['size', 'length'].map((key) =>
    problem.lengths.reduce(
      (sum, length, slot) => sum + length[key as 'size' | 'length'] * (length.count - (missing[slot] ?? 0)),
      0,
    ),
  )
  return Math.max(lengths!, sizes! - problem.kerf * problem.pieces.reduce((sum, piece) => sum + piece.ids.length, 0))
}

/** Where a proposal is this near to what is possible at all, no more time is spent on it. */
const NEAR = 1.002
/** Beyond so many kinds of lengths and pieces the relaxation is left early. */
const MANY = 120

/**
 * A good way of cutting where the exact way would take too long: pieces filled one after another, whole patterns of the
 * relaxation with what is left filled in, the most wasteful pieces cut anew. `missing`: how many of each kind of length
 * no piece could give.
 */
export function search(problem: Counted): Searched {
  let best = { open: openOf(problem), found: [] as Pattern[] }
  let bound = plainBound(problem)
  const isNear = (): boolean => best.open.wanted.every((n) => n === 0) && costs(best.found) <= bound * NEAR
  const attempt = (entry: { open: Open; found: Pattern[] }): void => {
    const [lacks, had] = [lack(problem, entry.open), lack(problem, best.open)]
    if (lacks < had || (lacks === had && costs(entry.found) < costs(best.found))) {
      best = entry
    }
  }
  const start = (cut: (open: Open) => Pattern[]) => (): { open: Open; found: Pattern[] } => {
    const open = openOf(problem)
    return { open, found: cut(open) }
  }
  const plain = [
    start((open) => fit(problem, open)),
    ...[0.05, 0.3, 0].map((bias) => start((open) => fill(problem, open, bias))),
    ...[0, 0.002, 0.006, 0.012].map((spare) => () => choose(problem, spare)),
  ]
  for (const begin of plain) {
    if (!isNear()) {
      attempt(begin())
    }
  }
  if (isNear()) {
    return { patterns: best.found, missing: best.open.wanted, bound }
  }
  const relaxed = relax(problem, problem.lengths.length + problem.pieces.length > MANY ? 25 : 150)
  bound = Math.max(bound, relaxed.bound)
  const rounded = (share: number) =>
    start((open) => {
      const found: Pattern[] = []
      for (const { pattern, amount } of [...relaxed.taken].sort((a, b) => (b.amount % 1) - (a.amount % 1))) {
        take(open, pattern, Math.floor(amount) + (amount % 1 >= share ? 1 : 0), found)
      }
      return [...found, ...fill(problem, open, 0.05)]
    })
  for (const share of [0.999, 0.6, 0.35]) {
    if (!isNear()) {
      attempt(rounded(share)())
    }
  }
  return {
    patterns: isNear() || best.found.length === 0 ? best.found : improve(problem, best.found, bound, 60),
    missing: best.open.wanted,
    bound,
  }
}

const lack = (problem: Counted, open: Open): number =>
  open.wanted.reduce((sum, n, slot) => sum + n * problem.lengths[slot]!.size, 0)
