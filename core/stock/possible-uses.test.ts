import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { ratio, toText } from '../units/exact'
import { possibleUses, type Flow } from './possible-uses'

const flow = (act: number, into: number, out: number): Flow => ({ act, into: ratio(into), out: ratio(out) })

describe('where goods kept by quantity only may have gone', () => {
  const flows = [
    flow(1, 4, 0),
    flow(2, 6, 0),
    flow(3, 0, 3),
    flow(4, 0, 5),
    flow(5, 0, 2),
    flow(6, 1, 0),
    flow(7, 0, 1),
  ]

  it('every act until first in, first out has used them up', () => {
    expect(possibleUses(flows, 2).acts).toEqual([3, 4, 5])
    expect(toText(possibleUses(flows, 2).left)).toBe('0')
  })
  it('what was there before is gone sooner, what comes later is no suspect', () => {
    expect(possibleUses(flows, 1).acts).toEqual([3, 4])
    expect(possibleUses(flows, 6).acts).toEqual([7])
  })
  it('what may still be there is no more than came in', () => {
    expect(toText(possibleUses(flows.slice(0, 3), 2).left)).toBe('6')
    expect(toText(possibleUses(flows.slice(0, 4), 2).left)).toBe('2')
  })
  it('nothing of an act that brought none', () => {
    expect(possibleUses(flows, 99)).toEqual({ acts: [], left: ratio(0) })
  })

  // Units that carry the act they came with, taken from the head of a queue: what an independent count finds.
  it('holds every act that first in, first out gives some to, and ends with the last of them (property)', () => {
    const step = fc.record({ into: fc.integer({ min: 0, max: 6 }), out: fc.integer({ min: 0, max: 6 }) })
    fc.assert(
      fc.property(fc.array(step, { minLength: 2, maxLength: 25 }), fc.nat(), (steps, which) => {
        const queue: number[] = []
        const got = new Map<number, Set<number>>()
        const moved = steps.map(({ into, out }, act) => {
          const taken = queue.splice(0, Math.min(out, queue.length))
          for (const from of taken) {
            got.set(from, (got.get(from) ?? new Set<number>()).add(act))
          }
          queue.push(...Array.from({ length: into }, () => act))
          return flow(act, into, taken.length)
        })
        const entries = moved.filter(({ into }) => !into.equals(0))
        fc.pre(entries.length > 0)
        const entry = entries[which % entries.length]!.act
        const { acts, left } = possibleUses(moved, entry)
        const really = [...(got.get(entry) ?? [])]
        const still = queue.filter((unit) => unit === entry).length
        expect(acts).toEqual(expect.arrayContaining(really))
        expect(toText(left)).toBe(String(still))
        if (still === 0) {
          expect(acts.at(-1)).toBe(really.at(-1))
        }
      }),
    )
  })
})
