import { expect, it } from 'vitest'
import { plural } from './plural'

it.each([
  [0, 'orders'],
  [1, 'order'],
  [2, 'orders'],
  [-1, 'orders'],
])('%s %s', (count, word) => {
  expect(plural(count, 'order', 'orders')).toBe(word)
})
