import type { Choice } from './choose-method'
import type { MethodName } from './series'
import type { Step } from '../calendar/periods'

/** What a method does, after “Forecast”. */
export const METHOD_SAYS: Readonly<Record<MethodName, string>> = {
  naive: 'as it was in the same period last time',
  average: 'at the average of the last days',
  'moving average': 'at the mean of the last periods',
  'last year': 'as last year, with its growth',
  'simple smoothing': 'at a level that follows slowly',
  'trend smoothing': 'along a trend',
  'seasonal smoothing, added': 'by trend and season (season added)',
  'seasonal smoothing, multiplied': 'by trend and season (season multiplied)',
  intermittent: 'by the size of its sales and the time between them',
}

const shown = (value: number): string => {
  if (value >= 100) {
    return value.toFixed(0)
  }
  if (value >= 10) {
    return value.toFixed(1)
  }
  return value.toFixed(2)
}

/**
 * One sentence that says why this method was taken, with the numbers that decided.
 *
 * Units: errors in the item's stock unit (`symbol`) a period of `step`.
 */
export function describeChoice(choice: Choice, step: Step, symbol: string): string {
  const { applied, reason, span, compared } = choice
  const does = METHOD_SAYS[applied.method]
  if (reason === 'too short') {
    return `Forecast ${does}: there is too little history to test anything better.`
  }
  const errorsOf = (name: MethodName): number | null =>
    compared.find((result) => result.method === name)?.errors?.rmse ?? null
  const [own, naive] = [errorsOf(applied.method), errorsOf('naive')]
  if (own === null || span === null) {
    return `Forecast ${does}, because a person chose that; there is too little history to test it.`
  }
  const test = `forecasting the last ${span.origins} ${step}s up to ${span.ahead} ${step}s ahead`
  const off = `it was off by ${shown(own)} ${symbol} a ${step}`
  let against
  if (applied.method === 'naive' || naive === null) {
    against = ''
  } else if (naive === 0) {
    against = '; repeating what was sold was not off at all'
  } else if (own <= naive) {
    against = `, ${((1 - own / naive) * 100).toFixed(0)} % less than repeating what was sold`
  } else {
    against = `, ${((own / naive - 1) * 100).toFixed(0)} % more than repeating what was sold`
  }
  if (reason === 'wanted') {
    return `Forecast ${does}, because a person chose that: ${test}, ${off}${against}.`
  }
  const tested = compared.filter((result) => result.errors !== null)
  const best = tested.reduce((a, b) => (b.errors!.rmse < a.errors!.rmse ? b : a))
  if (reason === 'simpler') {
    return `Forecast ${does}: ${test}, ${off}${against}; ${METHOD_SAYS[best.method]} it would have been ${shown(best.errors!.rmse)}, too little less for a more involved method.`
  }
  return `Forecast ${does}: ${test}, ${off}, least of ${tested.length} methods${against}.${choice.isIntermittent ? ' It sells now and then only.' : ''}`
}
