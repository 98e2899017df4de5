import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkDigit, describeGtinError, readGtin } from './gtin'
import { isNumberPattern, nextCode } from './number-pattern'
import { readScan } from './read-scan'
import { scanInField } from './scan-in-field'

describe('GS1 check digits', () => {
  // GS1 General Specifications: 7.9.1 (629104150021 → 3, GTIN-13; 37610425002123456 → 9, SSCC); the others are the
  // GTINs of its figures, from memory.
  it.each([
    ['629104150021', 3],
    ['37610425002123456', 9],
    ['952110153000', 1],
    ['0952110153000', 1],
    ['61414100003', 6],
    ['9638507', 4],
  ])('%s ends in %i', (digits, last) => {
    expect(checkDigit(digits)).toBe(last)
  })
  it.each([
    ['6291041500213', '06291041500213', 'GTIN-13'],
    ['96385074', '00000096385074', 'GTIN-8'],
    ['614141000036', '00614141000036', 'GTIN-12'],
    ['9 521101 530001', '09521101530001', 'GTIN-13'],
    ['09521101530001', '09521101530001', 'GTIN-14'],
  ])('%s is %s', (text, gtin14, form) => {
    expect(readGtin(text)).toEqual({ ok: true, value: { gtin14, form } })
  })
  it.each([
    ['629104150021X', '“629104150021X” is no GTIN: it has digits only. Enter it as an ordinary code instead.'],
    ['12345', 'A GTIN has 8, 12, 13 or 14 digits; “12345” has 5.'],
    ['6291041500214', 'The last digit of 6291041500214 should be 3. Compare it with the label.'],
  ])('%s is refused', (text, sentence) => {
    const read = readGtin(text)
    expect(read.ok ? '' : describeGtinError(read.error)).toBe(sentence)
  })
  it('one digit typed wrong is always noticed (property)', () => {
    fc.assert(
      fc.property(
        fc.stringMatching(/^\d{12}$/),
        fc.integer({ min: 0, max: 12 }),
        fc.integer({ min: 1, max: 9 }),
        (digits, index, change) => {
          const right = digits + checkDigit(digits)
          const wrong = right.slice(0, index) + ((Number(right[index]) + change) % 10) + right.slice(index + 1)
          return readGtin(right).ok && !readGtin(wrong).ok
        },
      ),
      { numRuns: 1000 },
    )
  })
})

describe('a scan', () => {
  const GS = '\u001d'
  it.each([
    ['GLUE-TUB', { code: 'GLUE-TUB', gtin14: null, lot: null, expiresOn: null }],
    ['6291041500213', { code: '6291041500213', gtin14: '06291041500213', lot: null, expiresOn: null }],
    // GS1 General Specifications, 7.8: predefined lengths need no separator, a lot runs to it.
    [
      `]d20109521101530001172705311044-B${GS}2012`,
      { code: '09521101530001', gtin14: '09521101530001', lot: '44-B', expiresOn: '2027-05-31' },
    ],
    [
      '(01)09521101530001(10)44-B(17)270200',
      { code: '09521101530001', gtin14: '09521101530001', lot: '44-B', expiresOn: '2027-02-28' },
    ],
    [`${GS}010952110153000110L7`, { code: '09521101530001', gtin14: '09521101530001', lot: 'L7', expiresOn: null }],
    ['010952110153000110L7', { code: '09521101530001', gtin14: '09521101530001', lot: 'L7', expiresOn: null }],
    [
      '(01)09521101530001(17)271200',
      { code: '09521101530001', gtin14: '09521101530001', lot: null, expiresOn: '2027-12-31' },
    ],
    ['(01)09521101530001(17)271301', { code: '09521101530001', gtin14: '09521101530001', lot: null, expiresOn: null }],
    ['01-SMALL-BOX', { code: '01-SMALL-BOX', gtin14: null, lot: null, expiresOn: null }],
  ])('%j', (text, scan) => {
    expect(readScan(text)).toEqual(scan)
  })
})

describe('codes by pattern', () => {
  it.each([
    ['GLUE-###', ['GLUE-007', 'BOARD-9', 'GLUE-X'], 'GLUE-008'],
    ['A#', ['A9'], 'A10'],
    ['##-EU', [], '01-EU'],
    ['N####', ['N9999'], 'N10000'],
  ])('%s after %j is %s', (pattern, taken, next) => {
    expect(nextCode(pattern, taken)).toBe(next)
  })
  it.each([
    ['GLUE', false],
    ['A##-##', false],
    ['#', true],
    ['', false],
  ])('%j is a pattern: %s', (text, is) => {
    expect(isNumberPattern(text)).toBe(is)
  })
  it('throws on what is none', () => {
    expect(() => nextCode('GLUE', [])).toThrow()
  })
  it('never gives a code that is taken (property)', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 2000 })), (numbers) => {
        const taken = numbers.map((n) => `X${String(n).padStart(3, '0')}`)
        return !taken.includes(nextCode('X###', taken))
      }),
      { numRuns: 1000 },
    )
  })
})

describe('a scanner that writes into a quantity field', () => {
  it('is told from a quantity, also behind figures that were typed before', () => {
    expect(scanInField('4006381333931')).toEqual({ typed: '', code: '4006381333931' })
    expect(scanInField('124006381333931')).toEqual({ typed: '12', code: '4006381333931' })
    expect(scanInField('5036000291452')).toEqual({ typed: '5', code: '036000291452' })
  })
  it('carries a GS1 element string, with its symbology identifier or in brackets', () => {
    expect(scanInField('12]d2010952123456790510L-7')).toEqual({ typed: '12', code: ']d2010952123456790510L-7' })
    expect(scanInField('2.5(01)09521234567905(10)L-7')).toEqual({ typed: '2.5', code: '(01)09521234567905(10)L-7' })
  })
  it('a long number that is no barcode is no quantity either', () => {
    expect(scanInField('123456789012')).toEqual({ typed: '', code: '123456789012' })
  })
  it.each(['', '12', '2.5 kg', '3*12', '40063813', '1 250', '99999999999'])('“%s” is a quantity', (text) => {
    expect(scanInField(text)).toBeNull()
  })
})
