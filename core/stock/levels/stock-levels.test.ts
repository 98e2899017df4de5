import { describe, expect, it } from 'vitest'
import { checkStockLevels, describeMarkError, stockLevelsOn, type MarkRule, type StockLevels } from './stock-levels'

const stockLevels = (
  ...[safetyStock = null, reorderPoint = null, targetStock = null, maximumStock = null]: (string | null)[]
): StockLevels => ({ safetyStock, reorderPoint, targetStock, maximumStock })

describe('safety stock ≤ reorder point ≤ target ≤ maximum', () => {
  it.each([
    [stockLevels('0', '0', '0', '0')],
    [stockLevels('10', '20', '30', '40')],
    [stockLevels('10', null, null, '10')],
    [stockLevels()],
    [stockLevels(null, '5')],
  ])('%j is in order', (given) => {
    expect(checkStockLevels(given).ok).toBe(true)
  })
  it.each([
    [
      stockLevels('10', '9'),
      'The reorder point of 9 lies below the safety stock of 10. From low to high they are: safety stock, reorder point, target, maximum.',
    ],
    [
      stockLevels('10', null, null, '9.5'),
      'The maximum of 9.5 lies below the safety stock of 10. From low to high they are: safety stock, reorder point, target, maximum.',
    ],
    [
      stockLevels('1', '2', '40', '30'),
      'The maximum of 30 lies below the target of 40. From low to high they are: safety stock, reorder point, target, maximum.',
    ],
    [
      stockLevels('1', '100', '20'),
      'The target of 20 lies below the reorder point of 100. From low to high they are: safety stock, reorder point, target, maximum.',
    ],
  ])('%j is not', (given, sentence) => {
    const checked = checkStockLevels(given)
    expect(checked.ok ? '' : describeMarkError(checked.error)).toBe(sentence)
  })
})

describe('marks by site and season', () => {
  const rule = (change: Partial<MarkRule>): MarkRule => ({
    ...stockLevels(),
    siteId: null,
    fromOn: null,
    untilOn: null,
    yearly: false,
    ...change,
  })
  const rules = [
    rule({ siteId: 2, fromOn: '2026-10-01', untilOn: '2026-12-15', safetyStock: '99' }),
    rule({ siteId: 2, safetyStock: '5' }),
    rule({ fromOn: '2025-11-15', untilOn: '2026-01-10', yearly: true, safetyStock: '40', maximumStock: '200' }),
  ]
  it.each([
    [1, '2026-10-05', '20', '100'],
    [2, '2026-09-30', '5', '100'],
    [2, '2026-10-01', '99', '100'],
    [2, '2026-12-16', '5', '200'],
    [1, '2026-11-14', '20', '100'],
    [1, '2026-11-15', '40', '200'],
    [1, '2030-01-10', '40', '200'],
    [1, '2030-01-11', '20', '100'],
  ])('at site %i on %s: safety %s, maximum %s', (site, day, safety, maximum) => {
    expect(stockLevelsOn(stockLevels('20', null, null, '100'), rules, site, day)).toEqual(
      stockLevels(safety, null, null, maximum),
    )
  })
})
