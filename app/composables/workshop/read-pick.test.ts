import { describe, expect, it } from 'vitest'
import type { BuildLineAnswer, Choice } from '~~/shared/workshop/answers'
import { readPick } from './read-pick'

const choice = (balanceId: number, more: Partial<Choice> = {}): Choice => ({
  balanceId,
  bin: 'Shelf A',
  lot: null,
  piece: null,
  expiresOn: null,
  free: '1',
  own: '0',
  onHand: '1',
  byOrder: true,
  ...more,
})
const line = (itemId: number, code: string, choices: Choice[]) =>
  ({ id: itemId, itemId, code, choices }) as unknown as BuildLineAnswer
// GTIN of the prefix kept for examples; its check digit by GS1’s rule.
const GTIN = '09521234543213'
const lines = [
  line(1, 'GLUE', [choice(10, { lot: 'G-1' }), choice(11, { lot: 'G-2' })]),
  line(2, 'CLOTH', [choice(20, { lot: 'G-1', piece: 'MG-31/1' })]),
  line(3, 'THREAD', [choice(30)]),
]
const read = (text: string) => {
  const found = readPick(text, lines, (item) => (item === 1 ? [GTIN] : []))
  return found.ok ? `${found.line.code} ${found.choice?.balanceId ?? 'any'}` : found.summary
}

describe('what a scan means at the bench', () => {
  it.each([
    ['the label of a piece', 'MG-31/1', 'CLOTH 20'],
    ['the number of a lot', 'g-2', 'GLUE 11'],
    ['an item by its code', 'thread', 'THREAD any'],
    ['an item by its barcode', '9521234543213', 'GLUE any'],
    ['item and lot in one GS1 symbol', `]d201${GTIN}10G-2`, 'GLUE 11'],
    [
      'a lot of the item that is not free here',
      `(01)${GTIN}(10)G-9`,
      'Lot G-9 of GLUE is not free here. Take another, or look where it lies.',
    ],
    ['something else', ' X-1 ', '“X-1” is nothing that this job takes.'],
  ])('%s', (_, text, expected) => {
    expect(read(text)).toBe(expected)
  })
})
