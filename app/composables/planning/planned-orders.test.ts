import { describe, expect, it } from 'vitest'
import { blockOf, compareOrders, sourceOf, type PlannedOrder } from './planned-orders'

const order = (more: Partial<PlannedOrder>): PlannedOrder => ({
  id: 1,
  ref: 'planned:1:1',
  supplierId: null,
  itemId: 1,
  code: 'CLOTH',
  name: 'Cloth',
  kind: 'buy',
  quantity: '5',
  symbol: 'm',
  releaseOn: '2026-03-02',
  dueOn: '2026-03-09',
  lateBy: 0,
  promisedOn: '2026-03-09',
  supplier: null,
  site: null,
  fromSite: null,
  node: '1',
  state: 'proposed',
  documentKind: null,
  documentId: null,
  documentNumber: null,
  ...more,
})

describe('where the goods of a planned order come from', () => {
  it.each<[string, Partial<PlannedOrder>, string]>([
    ['a supplier', { supplier: 'Weftworks' }, 'Weftworks'],
    [
      'a supplier, wanted at a site',
      { supplier: 'Weftworks', node: '1@2', site: 'Parkside' },
      'Weftworks, at Parkside',
    ],
    ['made at a site', { kind: 'make', node: '1@2', site: 'Parkside' }, 'at Parkside'],
    ['made, all sites as one', { kind: 'make', site: 'Workshop' }, ''],
    ['another site', { kind: 'move', fromSite: 'Workshop', site: 'Parkside' }, 'Workshop → Parkside'],
  ])('%s', (_, more, text) => {
    expect(sourceOf(order(more))).toBe(text)
  })
  it('is drawn as coming where it comes from outside the workshop, as made where not', () => {
    expect(['buy', 'move', 'make', 'break down'].map((kind) => blockOf(order({ kind })))).toEqual([
      'coming',
      'coming',
      'making',
      'making',
    ])
  })
})

describe('the order of planned orders', () => {
  const sorted = (key: '' | 'supplier' | 'code', list: readonly PlannedOrder[]): number[] =>
    [...list].sort((a, b) => compareOrders(key, a, b)).map(({ id }) => id)
  const list = [
    order({ id: 1, supplier: null, code: 'B' }),
    order({ id: 2, supplier: 'Weftworks', code: 'C', state: 'released' }),
    order({ id: 3, supplier: 'Pell', code: 'D' }),
    order({ id: 4, supplier: 'Pell', code: 'A' }),
  ]
  it('stays as the plan has it without a choice', () => {
    expect(sorted('', list)).toEqual([1, 2, 3, 4])
  })
  it('by supplier: what has none last, what is released after all that is not', () => {
    expect(sorted('supplier', list)).toEqual([3, 4, 1, 2])
  })
  it('by item', () => {
    expect(sorted('code', list)).toEqual([4, 1, 3, 2])
  })
})
