import { sql, type SQL } from 'drizzle-orm'
import { SiteAreas, type SiteRoute } from '~~/core/planning/input'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { PlanScope } from '~~/shared/planning/requests'
import { nodeId } from '~~/shared/planning/node-id'

export const atSites = (column: SQL, sites: readonly number[]): SQL =>
  sites.length === 0 ? sql`true` : anyOf(column, sites)

interface PlannedSite {
  readonly id: number
  readonly calendarId: number | null
}

/** The name of the calendar of a company that has chosen none: Monday to Friday. */
export const USUAL_WEEK = 'Monday to Friday'

/** The sites that count in a plan: which of them share their stock, and where an item of each lies in it. */
export class PlannedSites {
  /** The site that everything is at which names none; null where it does not count. */
  readonly first: number | null
  private readonly main: number
  constructor(
    readonly areas: SiteAreas,
    private readonly sites: ReadonlyMap<number, PlannedSite>,
    private readonly usual: number | null,
    /** The calendar of the company, by which whoever has none of their own works. */
    readonly companyCalendar: string,
  ) {
    this.first = usual !== null && areas.areaOf(usual) !== undefined ? usual : null
    this.main = areas.main
  }

  /** The node of an item at a site; a site of none is the usual one. Null where it does not count. */
  nodeAt(itemId: number | string, siteId: number | null): string | null {
    const site = siteId ?? this.usual
    const area = site === null ? undefined : this.areas.areaOf(site)
    return area === undefined ? null : this.inArea(itemId, area)
  }
  inArea(itemId: number | string, area: number): string {
    return nodeId(itemId, area === this.main ? null : area)
  }
  calendarOf(site: number): string {
    return String(this.sites.get(site)?.calendarId ?? this.companyCalendar)
  }
}

export async function loadPlannedSites(
  reader: Reader,
  scope: Pick<PlanScope, 'sites' | 'sitesAsOne'>,
): Promise<PlannedSites> {
  const all = await rows<PlannedSite>(
    reader,
    sql`select id, calendar_id as "calendarId" from sites where not retired order by id`,
  )
  const chosen = all.filter((site) => scope.sites.length === 0 || scope.sites.includes(site.id))
  const counts = chosen.length > 0 ? chosen : all
  const routes = await rows<SiteRoute>(
    reader,
    sql`select id, from_site_id as "from", to_site_id as "to", days from routes where not retired order by id`,
  )
  const [own] = await rows<{ id: number | null }>(reader, sql`select calendar_id as id from company`)
  return new PlannedSites(
    new SiteAreas(counts.length > 0 ? counts.map((site) => site.id) : [0], routes, scope.sitesAsOne),
    new Map(all.map((site) => [site.id, site])),
    all[0]?.id ?? null,
    String(own?.id ?? USUAL_WEEK),
  )
}
