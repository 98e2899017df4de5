import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ONE, ratio, toText, ZERO, type Ratio } from '../../units/exact'
import { buildable, type BreakDown, type Wanted } from './buildable'
import type { StructureLine } from '..'
import { line as written, structureOf } from '../structure-of-tests'
import { runs } from '../../../tests/property-runs'

const line = (parent: string, child: string, per: string, fixed = '0'): StructureLine =>
  written(parent, child, per, { fixed: ratio(fixed) })
const goods = (free: Readonly<Record<string, string | number>>, step = '1') => ({
  free: (item: string) => ratio(String(free[item] ?? 0)),
  finestStep: () => ratio(step),
})
const demand = (item: string, quantity = '1'): Wanted => ({ item, quantity: ratio(quantity) })
const summarise = (answer: ReturnType<typeof buildable>) =>
  answer.ok
    ? {
        sets: Number(answer.value.sets),
        next: Object.fromEntries(answer.value.next.map((use) => [use.item, toText(use.missing)])),
      }
    : answer.error

const BOOK = structureOf([
  line('book', 'block', '1'),
  line('book', 'case', '1'),
  line('block', 'sheet', '10'),
  line('case', 'cloth', '2'),
  line('case', 'sheet', '1'),
])

describe('buildable now', () => {
  it('uses sub-assemblies on hand first, makes the rest, and counts shared sheets once: 3 blocks there, 4 × 10 + 7 × 1 = 47 sheets', () => {
    expect(summarise(buildable(BOOK, [demand('book')], goods({ block: 3, sheet: 50, cloth: 100 })))).toEqual({
      sets: 7,
      next: { sheet: '8' },
    })
    expect(summarise(buildable(BOOK, [demand('book')], goods({ block: 3, sheet: 50, cloth: 5 })))).toEqual({
      sets: 2,
      next: { cloth: '1' },
    })
  })
  it('says what the sets take from stock and what is made for them', () => {
    const answer = buildable(BOOK, [demand('book')], goods({ block: 3, sheet: 50, cloth: 100 }))
    expect(
      answer.ok &&
        Object.fromEntries(
          answer.value.uses.map((use) => [use.item, [use.need, use.fromStock, use.made].map(toText).join(' ')]),
        ),
    ).toEqual({ book: '7 0 7', block: '7 3 4', case: '7 0 7', cloth: '14 14 0', sheet: '47 47 0' })
  })
  it('does not count what is on hand of the item itself', () => {
    expect(summarise(buildable(BOOK, [demand('book')], goods({ book: 9 })))).toEqual({
      sets: 0,
      next: { sheet: '11', cloth: '2' },
    })
  })
  it('counts several wanted together: 2 books and a spare block take 3 × 10 + 2 sheets a set', () => {
    expect(summarise(buildable(BOOK, [demand('book', '2'), demand('block')], goods({ sheet: 65, cloth: 99 })))).toEqual(
      {
        sets: 2,
        next: { sheet: '31' },
      },
    )
  })
  it('breaks bulk down where the small units run out: 5 tubs and a drum of 200', () => {
    const drum: BreakDown = { bulk: 'drum', take: ONE, outputs: [{ item: 'tub', quantity: ratio(200) }] }
    const glued = structureOf([line('book', 'tub', '1/10')])
    expect(summarise(buildable(glued, [demand('book')], goods({ tub: 5, drum: 1 }, '0.001'), [drum]))).toMatchObject({
      sets: 2050,
      next: { drum: '1' },
    })
    expect(summarise(buildable(structureOf([]), [demand('tub')], goods({ drum: 2 }), [drum]))).toMatchObject({
      sets: 400,
    })
  })
  it('one break-down gives all its outputs: a sheet is 4 covers and 2 spines', () => {
    const cut: BreakDown = {
      bulk: 'board',
      take: ONE,
      outputs: [
        { item: 'cover', quantity: ratio(4) },
        { item: 'spine', quantity: ratio(2) },
      ],
    }
    expect(
      summarise(
        buildable(
          structureOf([line('case', 'cover', '2'), line('case', 'spine', '1')]),
          [demand('case')],
          goods({ board: 5 }),
          [cut],
        ),
      ),
    ).toEqual({ sets: 10, next: { board: '1' } })
  })
  it('rounds up once for the total, not once a piece: 0.4 g of a glue held in whole grams', () => {
    expect(
      summarise(buildable(structureOf([line('card', 'glue', '0.4')]), [demand('card')], goods({ glue: 10 }))),
    ).toEqual({
      sets: 25,
      next: { glue: '1' },
    })
  })
  it('counts what is needed once a build: 3 to set up and 2 each of 11', () => {
    expect(summarise(buildable(structureOf([line('a', 'b', '2', '3')]), [demand('a')], goods({ b: 11 })))).toEqual({
      sets: 4,
      next: { b: '2' },
    })
  })
  it('cannot tell of what needs nothing or is not made', () => {
    expect(summarise(buildable(BOOK, [demand('cloth')], goods({})))).toEqual({ code: 'not-made', item: 'cloth' })
    expect(summarise(buildable(BOOK, [], goods({})))).toEqual({ code: 'unbounded' })
  })
  it('equals taking things from the shelf one set after another (property)', () => {
    const some = fc.array(fc.tuple(fc.nat(6), fc.nat(6), fc.integer({ min: 1, max: 3 })), {
      minLength: 1,
      maxLength: 9,
    })
    fc.assert(
      fc.property(
        some,
        fc.array(fc.nat(40), { minLength: 7, maxLength: 7 }),
        fc.integer({ min: 1, max: 2 }),
        (edges, free, each) => {
          const lines = edges.filter(([a, b]) => a < b).map(([a, b, n]) => line(`i${a}`, `i${b}`, `${n}`))
          const made = new Set(lines.map((l) => l.parent))
          if (!made.has('i0')) {
            return
          }
          const shelf = new Map(free.map((count, index) => [`i${index}`, index === 0 ? 0 : count]))
          const take = (item: string, count: number): boolean => {
            const there = item === 'i0' ? 0 : Math.min(count, shelf.get(item)!)
            shelf.set(item, shelf.get(item)! - there)
            if (there === count) {
              return true
            }
            return (
              made.has(item) &&
              lines
                .filter((l) => l.parent === item)
                .every((l) => take(l.child, Number(toText(l.per)) * (count - there)))
            )
          }
          let sets = 0
          while (take('i0', each)) {
            sets++
          }
          expect(
            summarise(
              buildable(
                structureOf(lines),
                [demand('i0', String(each))],
                goods(Object.fromEntries(free.map((count, index) => [`i${index}`, count]))),
              ),
            ),
          ).toMatchObject({ sets })
        },
      ),
      { numRuns: runs(500) },
    )
  })
  it('the next set lacks something, and the sets do not (property)', () => {
    fc.assert(
      fc.property(fc.nat(500), fc.nat(500), (sheet, cloth) => {
        const answer = buildable(BOOK, [demand('book')], goods({ sheet, cloth }))
        if (!answer.ok) {
          throw new Error('refused')
        }
        const isZero = (amount: Ratio): boolean => amount.equals(ZERO)
        expect(answer.value.uses.every((use) => isZero(use.missing)) && answer.value.next.length > 0).toBe(true)
        expect(Number(answer.value.sets)).toBe(Math.min(Math.floor(sheet / 11), Math.floor(cloth / 2)))
      }),
    )
  })
})
