import { expect, it } from 'vitest'
import { isPartlyForOthers, missingOf, thereFor, type CoveredLine } from './line-cover'

const line = (more: Partial<CoveredLine>): CoveredLine => ({
  quantity: '6',
  shipped: '0',
  allocated: '0',
  free: '14',
  got: '6',
  canPack: '0',
  kind: 'stocked',
  ...more,
})

it.each<[string, Partial<CoveredLine>, string, string, boolean]>([
  ['all of it is there', {}, '0', '6', false],
  ['an order of 12 before it leaves 2 of 14', { got: '2' }, '4', '2', true],
  ['what is allocated is there already', { allocated: '4', got: '2' }, '0', '6', false],
  ['what is shipped is wanted no more', { shipped: '5', got: '1' }, '0', '1', false],
  ['kits that can be packed are not missing', { free: '0', got: '0', canPack: '4' }, '2', '4', false],
  ['a service is never missing', { kind: 'service', free: '0', got: '0' }, '0', '0', false],
])('%s', (_, more, missing, there, isPartly) => {
  expect([missingOf(line(more)), thereFor(line(more)), isPartlyForOthers(line(more))]).toEqual([
    missing,
    there,
    isPartly,
  ])
})
