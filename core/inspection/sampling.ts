/**
 * Single sampling for inspection by attributes, as ISO 2859-1:1999 lays it down: tables 1 (code letters) and 2-A to 2-C
 * (plans). The figures were written down from memory; the tests check them against known rows and against what a plan
 * must do by the Poisson distribution.
 */

/** How much is looked at: the special levels for costly tests, then the general ones, of which II is usual. */
export const INSPECTION_LEVELS = ['S-1', 'S-2', 'S-3', 'S-4', 'I', 'II', 'III'] as const
/** One of the levels. */
export type InspectionLevel = (typeof INSPECTION_LEVELS)[number]
/** Usual, after lots that were rejected, and after many that were good. */
export const SEVERITIES = ['normal', 'tightened', 'reduced'] as const
/** How severe an inspection is. */
export type Severity = (typeof SEVERITIES)[number]

/** Acceptance quality limits: nonconforming pieces of a hundred, as the standard offers them. */
export const ACCEPTANCE_LIMITS = [
  '0.010',
  '0.015',
  '0.025',
  '0.040',
  '0.065',
  '0.10',
  '0.15',
  '0.25',
  '0.40',
  '0.65',
  '1.0',
  '1.5',
  '2.5',
  '4.0',
  '6.5',
  '10',
  '15',
  '25',
  '40',
  '65',
  '100',
  '150',
  '250',
  '400',
  '650',
  '1000',
] as const
/** One of the limits. */
export type AcceptanceLimit = (typeof ACCEPTANCE_LIMITS)[number]

const LETTERS = 'ABCDEFGHJKLMNPQRS'

/** Table 1: the largest lot of a row, and the letter at each level, in the order of `INSPECTION_LEVELS`. */
const CODE_LETTERS: readonly (readonly [largest: number, letters: string])[] = [
  [8, 'AAAAAAB'],
  [15, 'AAAAABC'],
  [25, 'AABBBCD'],
  [50, 'ABBCCDE'],
  [90, 'BBCCCEF'],
  [150, 'BBCDDFG'],
  [280, 'BCDEEGH'],
  [500, 'BCDEFHJ'],
  [1200, 'CCEFGJK'],
  [3200, 'CDEGHKL'],
  [10_000, 'CDFGJLM'],
  [35_000, 'CDFHKMN'],
  [150_000, 'DEGJLNP'],
  [500_000, 'DEGJMPQ'],
  [Infinity, 'DEHKNQR'],
]

/** How large the sample of each letter is, from A on. */
const SAMPLE_SIZES: Readonly<Record<Severity, readonly number[]>> = {
  normal: [2, 3, 5, 8, 13, 20, 32, 50, 80, 125, 200, 315, 500, 800, 1250, 2000],
  tightened: [2, 3, 5, 8, 13, 20, 32, 50, 80, 125, 200, 315, 500, 800, 1250, 2000, 3150],
  reduced: [2, 2, 2, 3, 5, 8, 13, 20, 32, 50, 80, 125, 200, 315, 500, 800],
}

/**
 * The tables run in diagonals: a letter more and a limit less are the same acceptance number. `first` is the diagonal
 * of acceptance number 0, counted as letter + limit; `numbers` are those of the diagonals from there on, with arrows to
 * the next plan above or below where the standard gives none.
 */
interface Diagonals {
  readonly first: number
  readonly numbers: readonly (number | 'up' | 'down')[]
}
const DIAGONALS: Readonly<Record<Severity, Diagonals>> = {
  normal: { first: 14, numbers: [0, 'up', 'down', 1, 2, 3, 5, 7, 10, 14, 21, 30, 44] },
  tightened: { first: 15, numbers: [0, 'down', 'down', 1, 2, 3, 5, 8, 12, 18, 27, 41] },
  // Whether the fourth has a plan of its own is not certain; the larger sample of the next letter is the safer one.
  reduced: { first: 14, numbers: [0, 'up', 'down', 'down', 1, 2, 3, 5, 6, 8, 10, 14, 21] },
}
/** The last number of the standard for any letter, and for the first five, whose samples are small. */
const MOST: Readonly<Record<Severity, number>> = { normal: 21, tightened: 18, reduced: 10 }
const LETTERS_WITH_MORE = 5

/** How a lot is sampled. */
export interface SamplingPlan {
  readonly letter: string
  /** How many pieces are looked at: never more than the lot has. */
  readonly size: number
  /** Accepted with so many that do not conform; one more is rejected. */
  readonly accept: number
}

/** The code letter for a lot. `lotSize`: pieces, at least 1; a lot of one is looked at whole. */
export function codeLetter(lotSize: number, level: InspectionLevel): string {
  const [, letters] = CODE_LETTERS.find(([largest]) => lotSize <= largest)!
  return letters[INSPECTION_LEVELS.indexOf(level)]!
}

/** How a lot is sampled: from its letter along the arrows to the plan that the standard gives. */
export function singleSampling(sample: {
  readonly lotSize: number
  readonly level: InspectionLevel
  readonly limit: AcceptanceLimit
  readonly severity: Severity
}): SamplingPlan {
  const { lotSize, level, limit, severity } = sample
  const sizes = SAMPLE_SIZES[severity]
  const limitIndex = ACCEPTANCE_LIMITS.indexOf(limit)
  let letter = LETTERS.indexOf(codeLetter(lotSize, level))
  const cellAt = (index: number): number | 'up' | 'down' => cellOf(severity, index, limitIndex)
  let cell = cellAt(letter)
  // An arrow that leads out of the table is followed the other way.
  let step = cell === 'up' && letter > 0 ? -1 : 1
  while (typeof cell !== 'number') {
    const isAtEnd = letter + step < 0 || letter + step >= sizes.length
    step = isAtEnd ? -step : step
    letter += step
    cell = cellAt(letter)
  }
  return { letter: LETTERS[letter]!, size: Math.min(sizes[letter]!, lotSize), accept: cell }
}

function cellOf(severity: Severity, letter: number, limit: number): number | 'up' | 'down' {
  const { first, numbers } = DIAGONALS[severity]
  const diagonal = letter + limit - first
  if (diagonal < 0) {
    return 'down'
  }
  const cell = numbers[diagonal] ?? 'up'
  return typeof cell === 'number' && cell > MOST[severity] && letter >= LETTERS_WITH_MORE ? 'up' : cell
}
