import highsLoader from 'highs'
import { count, proposeCuts, relax, type CuttingProblem } from '~~/core/cutting'
import { best, stream, type Figure } from './figure'

/** 200 lengths to be cut from 50 rolls, no two alike. */
function job(seed: number, keep: number): CuttingProblem {
  const next = stream(seed)
  return {
    wanted: Array.from({ length: 200 }, (_, index) => ({ id: `w${index}`, length: 20 + next(400), count: 1, job: '' })),
    stock: Array.from({ length: 50 }, (_, index) => ({ id: `s${index}`, length: 800 + next(1800), lot: null })),
    kerf: 1,
    keep,
    oneLotPerJob: false,
  }
}

/** A cutting problem in which a length goes to a roll or not, for a solver of mixed-integer programs. */
function asProgram({ wanted, stock, kerf }: CuttingProblem): string {
  const rows = [
    ...stock.map(
      (roll, i) =>
        `s${i}: ${wanted.map((cut, j) => `${cut.length + kerf} x${i}_${j}`).join(' + ')} - ${roll.length + kerf} y${i} <= 0`,
    ),
    ...wanted.map((_, j) => `w${j}: ${stock.map((__, i) => `x${i}_${j}`).join(' + ')} = 1`),
  ]
  return `Minimize\n obj: ${stock.map((roll, i) => `${roll.length} y${i}`).join(' + ')}\nSubject To\n ${rows.join('\n ')}\nBinary\n ${stock.flatMap((_, i) => [`y${i}`, ...wanted.map((__, j) => `x${i}_${j}`)]).join(' ')}\nEnd`
}

export async function* run(): AsyncGenerator<Figure> {
  for (const keep of [Infinity, 100]) {
    const given = job(1, keep)
    const taken = await best(2, () => proposeCuts(given))
    const plan = proposeCuts(given)
    if (plan.missing.length > 0) {
      throw new Error('Some lengths were left out')
    }
    const relaxed = relax(count(given), 120)
    yield {
      bench: 'cutting',
      figure: `200 lengths from 50 rolls, ${keep === Infinity ? 'no offcut kept' : `offcuts from ${keep} on kept`}`,
      value: taken,
      unit: 'ms',
      comparedWith: '2 000 ms asked',
      ratio: taken / 2000,
    }
    yield {
      bench: 'cutting',
      figure: '… used up above the bound',
      value: (plan.consumed / relaxed.bound - 1) * 100,
      unit: '%',
      comparedWith: '2 % asked',
      ratio: (plan.consumed / relaxed.bound - 1) / 0.02,
    }
  }
  const given = job(1, Infinity)
  const own = proposeCuts(given)
  const ownTime = await best(2, () => proposeCuts(given))
  const highs = await highsLoader()
  const start = performance.now()
  const solved = highs.solve(asProgram(given), { time_limit: 20 })
  const taken = performance.now() - start
  const found = Number.isFinite(solved.ObjectiveValue) ? solved.ObjectiveValue : Infinity
  yield* [
    {
      bench: 'cutting',
      figure: 'HiGHS on the same job, stopped after 20 s: used up',
      value: found,
      unit: 'steps',
      comparedWith: `our proposal, ${own.consumed} steps`,
      ratio: found / own.consumed,
    },
    {
      bench: 'cutting',
      figure: '… time',
      value: taken,
      unit: 'ms',
      comparedWith: 'our proposal',
      ratio: taken / ownTime,
    },
  ]
}
