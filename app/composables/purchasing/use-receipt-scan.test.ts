import { describe, expect, it } from 'vitest'
import { scannedBehind } from './use-receipt-scan'

describe('what a scanner wrote behind a figure', () => {
  const codes = ['NB-A5', 'GLUE-1', '', '77', 'KIT']
  it.each([
    ['12NB-A5', { typed: '12', code: 'NB-A5' }],
    ['nb-a5', { typed: '', code: 'NB-A5' }],
    ['2.5GLUE-1', { typed: '2.5', code: 'GLUE-1' }],
    ['124006381333931', { typed: '12', code: '4006381333931' }],
    ['12', null],
    ['177', null],
    ['', null],
    ['2 kit', null],
    ['2.5 kit', null],
  ])('%s', (text, told) => {
    expect(scannedBehind(text, codes)).toEqual(told)
  })
})
