import { describe, expect, it } from 'vitest'
import { buildUnitGraph, standardUnits, type UnitGraph } from '../units/graph'
import { ratio, toText } from '../units/exact'
import { balanceOf } from './roll-ups'
import { bindLine } from './lines'
import { compareLists } from './compare'

interface Entry {
  item: string
  quantity: string
  note: string
}
const entry = (item: string, quantity: string, note = ''): Entry => ({ item, quantity, note })
const describeOrders = (before: Entry[], after: Entry[]) =>
  compareLists(before, after, (entry) => entry.item, ['quantity', 'note']).map(
    (row) => `${row.kind} ${(row.after ?? row.before)!.item}${row.fields.length ? `: ${row.fields.join(', ')}` : ''}`,
  )

describe('comparing two revisions', () => {
  it.each([
    ['nothing changed', [entry('a', '1')], [entry('a', '1')], ['same a']],
    [
      'added, removed, changed',
      [entry('a', '1'), entry('b', '2'), entry('c', '3')],
      [entry('a', '1'), entry('c', '4'), entry('d', '1')],
      ['same a', 'removed b', 'changed c: quantity', 'added d'],
    ],
    ['the first is removed', [entry('a', '1'), entry('b', '2')], [entry('b', '2')], ['removed a', 'same b']],
    [
      'the second of the same item is the second',
      [entry('a', '1'), entry('a', '2')],
      [entry('a', '1'), entry('a', '5', 'more')],
      ['same a', 'changed a: quantity, note'],
    ],
    [
      'an other order is no change',
      [entry('a', '1'), entry('b', '2')],
      [entry('b', '2'), entry('a', '1')],
      ['same b', 'same a'],
    ],
    ['from nothing', [], [entry('a', '1')], ['added a']],
  ])('%s', (_, before, after, sentence) => {
    expect(describeOrders(before, after)).toEqual(sentence)
  })
})

describe('whether a break-down balances', () => {
  const graph = (...relations: [string, string, string][]): UnitGraph => {
    const built = buildUnitGraph(
      new Map(
        [
          ...standardUnits.values(),
          ...['drum', 'tub', 'roll', 'strip'].map((code) => ({
            code,
            name: code,
            plural: `${code}s`,
            symbol: code,
            dimension: 'pack' as const,
            ratio: null,
            decimals: 0,
            rec20: null,
          })),
        ].map((unit) => [unit.code, unit]),
      ),
      relations.map(([unit, per, base]) => ({ unit, per: ratio(per), of: base })),
    )
    if (!built.ok) {
      throw new Error(built.error.code)
    }
    return built.value
  }
  const part = (base: UnitGraph, amount: string, unit: string) => ({ graph: base, amount: ratio(amount), unit })
  const sentence = (...given: Parameters<typeof balanceOf>) => {
    const found = balanceOf(...given)
    return found && { unit: found.unit, rest: toText(found.rest) }
  }
  const drum = graph(['drum', '200', 'kg'])
  const tub = graph(['tub', '1', 'kg'])
  it.each([
    ['a drum of 200 kg into 200 tubs of 1 kg', '200', null, { unit: 'kg', rest: '0' }],
    ['two tubs are not accounted for', '198', null, { unit: 'kg', rest: '2' }],
    ['but are stated as lost', '198', '2', { unit: 'kg', rest: '0' }],
    ['more comes out than goes in', '201', null, { unit: 'kg', rest: '-1' }],
  ])('%s', (_, tubs, loss, expected) => {
    expect(
      sentence(part(drum, '1', 'drum'), loss === null ? null : part(drum, loss, 'kg'), [part(tub, tubs, 'tub')]),
    ).toEqual(expected)
  })
  it('of a roll is told in metres, where mass is not known', () => {
    expect(
      sentence(part(graph(['roll', '50', 'm']), '1', 'roll'), null, [
        part(graph(['strip', '120', 'cm']), '41', 'strip'),
      ]),
    ).toEqual({ unit: 'm', rest: '0.8' })
  })
  it('cannot be told where they share no dimension', () => {
    expect(sentence(part(drum, '1', 'drum'), null, [part(graph(), '5', 'piece')])).toBeNull()
  })
})

describe('a written line in stock units', () => {
  const built = buildUnitGraph(standardUnits, [{ unit: 'm', per: ratio('1.32'), of: 'm2' }])
  if (!built.ok) {
    throw new Error(built.error.code)
  }
  const cloth = { graph: built.value, stockUnit: 'm' }
  const sentence = (quantity: string, unit: string, basis: 'per batch' | 'per build', batch: string) => {
    const bound = bindLine({ quantity: ratio(quantity), unit, basis }, cloth, ratio(batch))
    return bound.ok ? [toText(bound.value.per), toText(bound.value.fixed)] : bound.error
  }
  it.each<[string, string, 'per batch' | 'per build', string, unknown]>([
    ['460', 'cm', 'per batch', '10', ['0.46', '0']],
    ['4.62', 'm2', 'per batch', '5', ['0.7', '0']],
    ['1', 'm', 'per batch', '3', ['1/3', '0']],
    ['25', 'cm', 'per build', '10', ['0', '0.25']],
    ['1', 'kg', 'per batch', '1', { code: 'no-path', from: 'kg', to: 'm' }],
    ['1', 'furlong', 'per build', '1', { code: 'unknown-unit', unit: 'furlong' }],
  ])('%s %s %s of %s', (quantity, unit, basis, batch, expected) => {
    expect(sentence(quantity, unit, basis, batch)).toEqual(expected)
  })
})
