import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SiteAreas, type SiteWay } from './site-areas'

const way = (id: number, from: number, to: number, days: number): SiteWay => ({ id, from, to, days })

describe('which sites share their stock', () => {
  it('a trolley there and back makes one of two sites; a van of two days does not', () => {
    const areas = new SiteAreas([1, 2, 3], [way(1, 1, 2, 0), way(2, 2, 1, 0), way(3, 1, 3, 2)])
    expect([1, 2, 3].map((site) => areas.areaOf(site))).toEqual([1, 1, 3])
    expect([areas.main, areas.sitesOf(1), areas.sitesOf(3), areas.areaOf(9)]).toEqual([1, [1, 2], [3], undefined])
    expect(areas.waysFrom(1)).toEqual(new Map([[3, way(3, 1, 3, 2)]]))
    expect(areas.waysFrom(3).size).toBe(0)
  })
  it('there at once, but not back: two areas; all as one: one', () => {
    expect(new SiteAreas([1, 2], [way(1, 1, 2, 0)]).areaOf(2)).toBe(2)
    expect(new SiteAreas([4, 7], [], true).areaOf(7)).toBe(4)
  })
  it('the quicker of two ways, through a third site where that is quicker; a site that is left out is no way', () => {
    const ways = [way(1, 1, 3, 9), way(2, 1, 2, 2), way(3, 2, 3, 3), way(4, 1, 3, 8)]
    expect(new SiteAreas([1, 2, 3], ways).waysFrom(1)).toEqual(
      new Map([
        [2, ways[1]],
        [3, ways[2]],
      ]),
    )
    expect(new SiteAreas([1, 3], ways).waysFrom(1)).toEqual(new Map([[3, ways[3]]]))
  })
  it('1 000 random maps: following the last ways back comes home, over no more days than any walk (Bellman-Ford over all pairs)', () => {
    const map = fc.array(
      fc
        .record({
          id: fc.integer({ min: 1, max: 99 }),
          from: fc.integer({ min: 1, max: 6 }),
          to: fc.integer({ min: 1, max: 6 }),
          days: fc.integer({ min: 0, max: 5 }),
        })
        .filter((w) => w.from !== w.to),
      { maxLength: 14 },
    )
    fc.assert(
      fc.property(map, (ways) => {
        const areas = new SiteAreas([1, 2, 3, 4, 5, 6], ways)
        const far = Array.from({ length: 7 }, (_, a) =>
          Array.from({ length: 7 }, (_, b) => (areas.areaOf(a) === areas.areaOf(b) ? 0 : Infinity)),
        )
        for (const w of ways) {
          far[w.from]![w.to] = Math.min(far[w.from]![w.to]!, w.days)
        }
        for (let k = 1; k <= 6; k++) {
          for (let a = 1; a <= 6; a++) {
            for (let b = 1; b <= 6; b++) {
              far[a]![b] = Math.min(far[a]![b]!, far[a]![k]! + far[k]![b]!)
            }
          }
        }
        const last = areas.waysFrom(1)
        for (const site of [2, 3, 4, 5, 6]) {
          let [index, days, hops] = [areas.areaOf(site)!, 0, 0]
          for (; index !== 1 && last.has(index) && hops < 10; hops++) {
            const w = last.get(index)!
            days += w.days
            index = areas.areaOf(w.from)!
          }
          expect(index === 1 ? days : Infinity).toBe(far[1]![site])
        }
      }),
      { numRuns: 1000 },
    )
  })
})
