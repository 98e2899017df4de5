import { describe, expect, it } from 'vitest'
import { amountFor, mergeCount } from './merge-count'
import type { Waiting } from './use-outbox'

const CLOTH = { id: 7, next: '2.5', finestStep: '0.01' }
const build = (left: string) => ({
  left,
  version: 9,
  symbol: 'pc',
  code: 'BOOK',
  number: 'B-12',
  components: [CLOTH],
})
const act = (made: number): Waiting => ({
  key: 'k',
  url: '/record',
  document: 'build/1',
  summary: `${made} pc BOOK`,
  at: '',
  body: { version: 8, made: String(made), uses: [{ lineId: 7, balanceId: 3, quantity: '1.5' }] },
})
const merged = (made: number, left: string) =>
  mergeCount(act(made), build(left), (line, count) => amountFor(build(left), line, count))

describe('a count recorded offline, where another device was quicker', () => {
  it('fits as a whole while as many are left, and takes what the bill says of the rest', () => {
    // 2.5 m for the five that are left: three take 1.5 m.
    expect(merged(3, '5')).toEqual({
      fits: {
        summary: '3 pc BOOK',
        body: { version: 9, made: '3', uses: [{ lineId: 7, balanceId: 3, quantity: '1.5' }] },
      },
      rest: null,
    })
  })
  it('as far as there are any left; the others are told', () => {
    const { fits, rest } = merged(3, '2')
    // Both that are left take all of 2.5 m.
    expect(fits).toMatchObject({ summary: '2 pc BOOK', body: { made: '2', uses: [{ quantity: '2.5' }] } })
    expect(rest?.summary).toBe('1 pc BOOK')
    expect(rest?.reason).toMatch(/^Meanwhile another device has recorded on B-12, and no more of it is left\./)
  })
  it('not at all where all of it is recorded', () => {
    expect(merged(3, '0')).toMatchObject({ fits: null, rest: { summary: '3 pc BOOK' } })
  })
})
