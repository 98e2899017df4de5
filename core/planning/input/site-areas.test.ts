import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { SiteAreas, type SiteRoute } from './site-areas'

const route = (id: number, from: number, to: number, days: number): SiteRoute => ({ id, from, to, days })

describe('which sites share their stock', () => {
  it('a trolley there and back makes one of two sites; a van of two days does not', () => {
    const areas = new SiteAreas([1, 2, 3], [route(1, 1, 2, 0), route(2, 2, 1, 0), route(3, 1, 3, 2)])
    expect([1, 2, 3].map((site) => areas.areaOf(site))).toEqual([1, 1, 3])
    expect([areas.main, areas.sitesOf(1), areas.sitesOf(3), areas.areaOf(9)]).toEqual([1, [1, 2], [3], undefined])
    expect(areas.routesFrom(1)).toEqual(new Map([[3, route(3, 1, 3, 2)]]))
    expect(areas.routesFrom(3).size).toBe(0)
  })
  it('there at once, but not back: two areas; all as one: one', () => {
    expect(new SiteAreas([1, 2], [route(1, 1, 2, 0)]).areaOf(2)).toBe(2)
    expect(new SiteAreas([4, 7], [], true).areaOf(7)).toBe(4)
  })
  it('the quicker of two ways, through a third site where that is quicker; a site that is left out is no way', () => {
    const routes = [route(1, 1, 3, 9), route(2, 1, 2, 2), route(3, 2, 3, 3), route(4, 1, 3, 8)]
    expect(new SiteAreas([1, 2, 3], routes).routesFrom(1)).toEqual(
      new Map([
        [2, routes[1]],
        [3, routes[2]],
      ]),
    )
    expect(new SiteAreas([1, 3], routes).routesFrom(1)).toEqual(new Map([[3, routes[3]]]))
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
      fc.property(map, (routes) => {
        const areas = new SiteAreas([1, 2, 3, 4, 5, 6], routes)
        const far = Array.from({ length: 7 }, (_, a) =>
          Array.from({ length: 7 }, (_, b) => (areas.areaOf(a) === areas.areaOf(b) ? 0 : Infinity)),
        )
        for (const w of routes) {
          far[w.from]![w.to] = Math.min(far[w.from]![w.to]!, w.days)
        }
        for (let k = 1; k <= 6; k++) {
          for (let a = 1; a <= 6; a++) {
            for (let b = 1; b <= 6; b++) {
              far[a]![b] = Math.min(far[a]![b]!, far[a]![k]! + far[k]![b]!)
            }
          }
        }
        const last = areas.routesFrom(1)
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
