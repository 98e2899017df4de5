/** A usual way between two sites, and how many working days it takes. */
export interface SiteRoute {
  readonly id: number
  readonly from: number
  readonly to: number
  readonly days: number
}

/**
 * Which sites share their stock in a plan, and along which ways the others are supplied.
 *
 * Sites with ways of no days in both directions are one area, named by its first site; so are all of them where
 * `asOne`. The first site's area is the main one. A way from or to a site that does not count is passed over.
 */
export class SiteAreas {
  private readonly areas = new Map<number, number>()
  private readonly routes: readonly SiteRoute[]
  private readonly known = new Map<number, ReadonlyMap<number, SiteRoute>>()

  constructor(
    readonly sites: readonly number[],
    routes: readonly SiteRoute[],
    asOne = false,
  ) {
    for (const site of sites) {
      this.areas.set(site, site)
    }
    const quick = new Set(routes.filter((route) => route.days === 0).map((route) => `${route.from} ${route.to}`))
    const join = (a: number, b: number): void => {
      const [low, high] = [
        Math.min(this.areas.get(a)!, this.areas.get(b)!),
        Math.max(this.areas.get(a)!, this.areas.get(b)!),
      ]
      for (const [site, area] of this.areas) {
        if (area === high) {
          this.areas.set(site, low)
        }
      }
    }
    for (const a of sites) {
      for (const b of sites) {
        if (asOne || (quick.has(`${a} ${b}`) && quick.has(`${b} ${a}`))) {
          join(a, b)
        }
      }
    }
    this.routes = routes.filter(
      (route) =>
        this.areas.has(route.from) &&
        this.areas.has(route.to) &&
        this.areas.get(route.from) !== this.areas.get(route.to),
    )
  }

  get several(): boolean {
    return new Set(this.areas.values()).size > 1
  }
  get main(): number {
    return this.areas.get(Math.min(...this.sites))!
  }
  /** Undefined for a site that does not count. */
  areaOf(site: number): number | undefined {
    return this.areas.get(site)
  }
  sitesOf(area: number): readonly number[] {
    return this.sites.filter((site) => this.areas.get(site) === area)
  }

  /**
   * By area, the last way of the quickest chain of ways that leads there from `home`; of equally quick ones the one
   * with fewer ways, then the first by number.
   */
  routesFrom(home: number): ReadonlyMap<number, SiteRoute> {
    const before = this.known.get(home)
    if (before) {
      return before
    }
    const reached = new Map([[home, { days: 0, hops: 0 }]])
    const last = new Map<number, SiteRoute>()
    // Few areas: every way is tried until none makes anything quicker.
    for (let changed = true; changed;) {
      changed = false
      for (const route of this.routes) {
        const index = reached.get(this.areas.get(route.from)!)
        if (!index) {
          continue
        }
        const target = this.areas.get(route.to)!
        const now = { days: index.days + route.days, hops: index.hops + 1 }
        const known = reached.get(target)
        if (known && (known.days < now.days || (known.days === now.days && known.hops <= now.hops))) {
          continue
        }
        reached.set(target, now)
        last.set(target, route)
        changed = true
      }
    }
    this.known.set(home, last)
    return last
  }
}
