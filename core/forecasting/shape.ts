import { toDay, toIso } from '../calendar/days'
import { periodOf, type Period, type Step } from '../calendar/periods'

/** Days from a period back to the same one a round ago. */
const BACK: Readonly<Record<Exclude<Step, 'month'>, number>> = { day: 7, week: 364 }
const ROUNDS = 3

/**
 * What was sold on average in the same periods of the last three rounds: the shape by which a total is spread.
 *
 * A round is a year of months or weeks, or a week of days. Nought where there is none.
 */
export function shapeOf(
  history: { readonly periods: readonly Period[]; readonly series: { readonly values: readonly number[] } } | null,
  periods: readonly Period[],
  step: Step,
): number[] {
  const known = new Map(history?.periods.map((period, index) => [period.first, history.series.values[index]!]))
  return periods.map(({ first }) => {
    let [sum, count] = [0, 0]
    // The wanted periods may lie more than a round ahead.
    for (let back = 1; back <= ROUNDS + 5 && count < ROUNDS; back++) {
      const value = known.get(
        step === 'month'
          ? `${Number(first.slice(0, 4)) - back}${first.slice(4)}`
          : periodOf(toIso(toDay(first) - back * BACK[step]), step).first,
      )
      if (value !== undefined) {
        sum += value
        count++
      }
    }
    return count === 0 ? 0 : sum / count
  })
}
