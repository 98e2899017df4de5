import { costOf, type Counted, type Pattern } from './problem'
import { patternOf } from './patterns'

/** So many steps are gone through at most. */
export const EXACT_STEPS = 20_000_000

/** How many steps the exact way would take. */
export const exactSteps = (problem: Counted): number =>
  problem.pieces.reduce((sum, piece) => sum + piece.ids.length, 0) *
  problem.lengths.reduce((product, length) => (product * (length.count + 1) * (length.count + 2)) / 2, 1)

/**
 * The way of cutting that uses up least, and among those the one that begins the fewest pieces: dynamic programming
 * over what is still wanted, piece by piece. Null where the pieces cannot give everything.
 *
 * Cost: pieces × Π (n + 1)(n + 2)/2 over the kinds of lengths, each wanted n times.
 */
export function cutExactly(problem: Counted): Pattern[] | null {
  const { lengths, pieces } = problem
  const strides: number[] = []
  let states = 1
  for (const length of lengths) {
    strides.push(states)
    states *= length.count + 1
  }
  const stock = pieces.flatMap((piece, kind) => piece.ids.map(() => kind))
  // Cost first; then a little for each piece that is begun.
  const BEGUN = 1 / 4096
  let least = new Float64Array(states).fill(Infinity)
  least[0] = 0
  const choices: Int32Array[] = []
  for (const kind of stock) {
    const { length } = pieces[kind]!
    const next = least.slice()
    const choice = new Int32Array(states)
    const room = length + problem.kerf
    const go = (index: number, before: number, sub: number, used: number): void => {
      if (index === lengths.length) {
        if (sub === 0 || least[before] === Infinity) {
          return
        }
        const cost = least[before]! + costOf(length, used, problem.keep) + BEGUN
        if (cost < next[before + sub]!) {
          next[before + sub] = cost
          choice[before + sub] = sub
        }
        return
      }
      const { size, count } = lengths[index]!
      for (let n = 0; n <= count && used + n * size <= room; n++) {
        for (let had = 0; had <= count - n; had++) {
          go(index + 1, before + had * strides[index]!, sub + n * strides[index]!, used + n * size)
        }
      }
    }
    go(0, 0, 0, 0)
    choices.push(choice)
    least = next
  }
  if (least[states - 1] === Infinity) {
    return null
  }
  const found: Pattern[] = []
  let state = states - 1
  for (let index = stock.length - 1; index >= 0; index--) {
    const sub = choices[index]![state]!
    if (sub === 0) {
      continue
    }
    found.push(
      patternOf(
        problem,
        stock[index]!,
        lengths.flatMap((length, i) => {
          const n = Math.floor(sub / strides[i]!) % (length.count + 1)
          return n > 0 ? [[i, n] as const] : []
        }),
      ),
    )
    state -= sub
  }
  return found.reverse()
}
