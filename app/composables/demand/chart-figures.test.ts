import { expect, it } from 'vitest'
import { roundFigure, sortByError } from './chart-figures'

it.each([
  [1.23456, 1.235],
  [-0.0004, -0],
  [2, 2],
])('%s is drawn as %s', (value, drawn) => {
  expect(roundFigure(value)).toBe(drawn)
})

it('methods stand by how far they were off; what could not be tested comes last', () => {
  const entry = (method: string, rmse: number | null) => ({ method, errors: rmse === null ? null : { rmse } }) as never
  const compared = [entry('naive', 3), entry('average', null), entry('simple smoothing', 1)]
  expect(sortByError(compared).map(({ method }) => method)).toEqual(['simple smoothing', 'naive', 'average'])
})
