import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText, ZERO } from '../units/exact'
import { applyMoves, type Balance, type StockMove } from './apply-moves'
import { describeStockError } from './describe'
import { pick, type Pickable } from './pick'

const balance = (bin: string, onHand: string, more: Partial<Pickable> = {}): Pickable => ({
  item: 'glue',
  bin,
  lot: null,
  piece: null,
  status: 'available',
  onHand: ratio(onHand),
  allocated: ZERO,
  expiresOn: null,
  receivedOn: null,
  pickOrder: 0,
  closedToPicking: false,
  ...more,
})
const move = (quantity: string, from: string | null, to: string | null, released = '0'): StockMove => ({
  item: 'glue',
  lot: null,
  piece: null,
  quantity: ratio(quantity),
  released: ratio(released),
  from: from === null ? null : { bin: from, status: 'available' },
  to: to === null ? null : { bin: to, status: 'available' },
})
const left = (balances: readonly Balance[]): string[] =>
  balances.map((b) => `${b.bin} ${toText(b.onHand)}/${toText(b.allocated)}`)

describe('applying moves', () => {
  it('takes from one bin and brings to another', () => {
    const result = applyMoves([balance('A', '10')], [move('4', 'A', 'B')])
    expect(result.ok && left(result.value)).toEqual(['A 6/0', 'B 4/0'])
  })
  it('uses up the allocation that it was made for', () => {
    const result = applyMoves([balance('A', '10', { allocated: ratio(7) })], [move('5', 'A', null, '5')])
    expect(result.ok && left(result.value)).toEqual(['A 5/2'])
  })
  it('refuses as a whole, and names each short line', () => {
    const result = applyMoves(
      [balance('A', '10', { allocated: ratio(8) }), balance('B', '1')],
      [move('1', 'A', null), move('2', 'B', null), move('3', 'A', null)],
    )
    expect(
      !result.ok &&
        result.error.code === 'short' &&
        result.error.lines.map((l) => [l.line, toText(l.wanted), toText(l.free)]),
    ).toEqual([
      [1, '2', '1'],
      [2, '3', '1'],
    ])
  })
  it('says what is there and where else it lies', () => {
    const result = applyMoves([balance('A', '1')], [move('2', 'A', null)])
    expect(
      !result.ok &&
        describeStockError(result.error, {
          format: { decimalSign: '.', grouping: 'space' },
          item: () => 'PVA glue',
          unit: () => 'kg',
          bin: () => 'Shelf A',
          lot: () => '',
          piece: () => '',
          elsewhere: () => '5 kg at Shelf B',
        }),
    ).toBe('PVA glue: 2 kg wanted from Shelf A, but only 1 kg is free there. Also free: 5 kg at Shelf B.')
  })
  it.each(['0', '-1'])('refuses a quantity of %s', (quantity) => {
    const result = applyMoves([balance('A', '10')], [move(quantity, 'A', null)])
    expect(!result.ok && result.error).toEqual({ code: 'not-above-zero', line: 0 })
  })
  it('loses and makes nothing, and never goes below what is allocated (property)', () => {
    const bins = fc.constantFrom('A', 'B', 'C')
    fc.assert(
      fc.property(fc.array(fc.tuple(bins, bins, fc.integer({ min: 1, max: 9 })), { maxLength: 12 }), (steps) => {
        let now: readonly Balance[] = [
          balance('A', '20', { allocated: ratio(3) }),
          balance('B', '5'),
          balance('C', '0'),
        ]
        for (const [from, to, quantity] of steps) {
          const result = applyMoves(now, [move(`${quantity}`, from, to)])
          if (result.ok) {
            now = now.map((b) => result.value.find((c) => c.bin === b.bin) ?? b)
          }
        }
        const total = now.reduce((sum, b) => sum.add(b.onHand), ZERO)
        return total.equals(25) && now.every((b) => b.onHand.compare(b.allocated) >= 0)
      }),
    )
  })
})

describe('picking', () => {
  const picked = (stock: Pickable[], quantity: string): string => {
    const { picks, missing } = pick(stock, ratio(quantity), '2026-10-05')
    return [...picks.map((p) => `${p.bin} ${toText(p.quantity)}`), `missing ${toText(missing)}`].join(', ')
  }
  it.each<[string, Pickable[], string, string]>([
    [
      'soonest expiry first',
      [
        balance('A', '5', { expiresOn: '2027-01-01', lot: '1' }),
        balance('B', '5', { expiresOn: '2026-12-01', lot: '2' }),
      ],
      '7',
      'B 5, A 2, missing 0',
    ],
    [
      'then the oldest',
      [balance('A', '5', { receivedOn: '2026-09-02' }), balance('B', '5', { receivedOn: '2026-09-01' })],
      '6',
      'B 5, A 1, missing 0',
    ],
    [
      'then by bin order',
      [balance('A', '5', { pickOrder: 20 }), balance('B', '5', { pickOrder: 10 })],
      '2',
      'B 2, missing 0',
    ],
    [
      'then by the order in which lots were entered, 9 before 12',
      [balance('A', '5', { lot: '12' }), balance('A', '3', { lot: '9' })],
      '4',
      'A 3, A 1, missing 0',
    ],
    [
      'skips closed bins, other statuses and what has expired',
      [
        balance('A', '5', { closedToPicking: true }),
        balance('B', '5', { status: 'on hold' }),
        balance('C', '5', { expiresOn: '2026-10-04' }),
      ],
      '1',
      'missing 1',
    ],
    ['a lot is good on its last day', [balance('C', '5', { expiresOn: '2026-10-05' })], '1', 'C 1, missing 0'],
    ['leaves allocated goods alone', [balance('A', '5', { allocated: ratio(4) })], '3', 'A 1, missing 2'],
  ])('%s', (_, stock, quantity, expected) => {
    expect(picked(stock, quantity)).toBe(expected)
  })
})
