import type { ForecastRow } from '~~/shared/demand/forecast'

type Compared = NonNullable<ForecastRow['result']>['compared']

/** A figure as a chart draws it: three decimals are more than a screen shows. */
export const roundFigure = (value: number): number => Math.round(value * 1000) / 1000

/** A colour of the look, by its name, as it is in the light that is on. */
export const tokenOf = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()

/** Methods by how far they were off in the test, the best first; what could not be tested comes last. */
export const sortByError = (compared: Compared): Compared[number][] =>
  [...compared].sort((a, b) => (a.errors?.rmse ?? Infinity) - (b.errors?.rmse ?? Infinity))
