import { sql } from 'drizzle-orm'
import type { PlanInput } from '~~/core/planning/input'
import { db, rows } from '~~/server/database/client'
import { siteOf } from '~~/shared/planning/node-id'
import type { PlanScope } from '~~/shared/planning/requests'
import { loadPlannedSites } from './planned-sites'
import { grouped } from '~~/core/units/quantity'
import { ratio, toText } from '~~/core/units/exact'
import type { MeasuredItem } from '../catalogue/measured-items'

/** The name of the site that a node is at; null throughout where the plan looks at one stock. */
export async function loadSiteNames(input: PlanInput, scope: PlanScope): Promise<(node: string) => string | null> {
  if (!input.nodes.some((node) => siteOf(node.id) !== null)) {
    return () => null
  }
  const { areas } = await loadPlannedSites(db, scope)
  const names = new Map(
    (await rows<{ id: number; name: string }>(db, sql`select id, name from sites`)).map((entry) => [
      entry.id,
      entry.name,
    ]),
  )
  return (node) => names.get(siteOf(node) ?? areas.main) ?? null
}

export const amount = (item: MeasuredItem, steps: number): string =>
  `${grouped(toText(item.measure.finestStep.mul(ratio(BigInt(steps)))), item.writing)} ${item.symbol}`
