import { eq, sql } from 'drizzle-orm'
import { applyWhatIf } from '~~/core/planning/what-if'
import type { PlanInput } from '~~/core/planning/input'
import type { PlanOutput } from '~~/core/planning/explain'
import { rows, type Reader } from '~~/server/database/client'
import { GROUP_ANCESTORS } from '~~/server/database/sql'
import { plans, type PlanSettingsRun } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import { itemOf } from '~~/shared/planning/node-id'
import { PlanScope } from '~~/shared/planning/requests'
import { ALL_OF_IT } from '~~/shared/planning/words'
import { readWhatIf, type WhatIfItem } from '~~/shared/planning/what-if'

export interface StoredPlan {
  readonly row: typeof plans.$inferSelect
  readonly snapshot: PlanInput
  readonly input: PlanInput
  readonly output: PlanOutput
  /** The settings that it was computed with; those of now are the row's. */
  readonly ran: PlanSettingsRun
  readonly scope: PlanScope
}

/**
 * A plan with the snapshot that it was computed on: as it was taken, and with what is tried out. One that was never
 * computed is not there, or empty where that is asked for.
 */
export async function loadPlan(reader: Reader, id: number, orEmpty = false): Promise<StoredPlan> {
  const [row] = await reader.select().from(plans).where(eq(plans.id, id))
  const ran = row && (row.ranWith ?? settingsOf(row))
  if (row && ran && orEmpty && (!row.input || !row.output)) {
    const nothing: PlanInput = {
      start: row.startsOn,
      end: row.endsOn,
      calendars: {},
      nodes: [],
      demands: [],
      supplies: [],
    }
    return {
      row,
      snapshot: nothing,
      input: nothing,
      output: { nodes: [], orders: [], pegs: [], messages: [] },
      ran,
      scope: scopeOf(ran),
    }
  }
  if (!row?.input || !row.output || !ran) {
    throw new Refusal('not-found', 'There is no such plan.')
  }
  return {
    row,
    snapshot: row.input,
    input: await withChanges(reader, row.input, ran.changes),
    output: row.output,
    ran,
    scope: scopeOf(ran),
  }
}

/** The settings of a plan as they are now, and nothing else of it. */
export function settingsOf(row: typeof plans.$inferSelect): PlanSettingsRun {
  const { endsOn, demandRule, forecastFalls, forecastIds, scope, changes } = row
  return { endsOn, demandRule, forecastFalls, forecastIds, scope, changes }
}

export const scopeOf = (row: Pick<PlanSettingsRun, 'scope'>): PlanScope => ({ ...ALL_OF_IT, ...row.scope })

export async function withChanges(
  reader: Reader,
  input: PlanInput,
  changes: PlanSettingsRun['changes'],
): Promise<PlanInput> {
  return changes.length === 0 ? input : applyWhatIf(input, readWhatIf(changes, input, await loadWhatIfItems(reader)))
}

/** Every item's step and the groups that it belongs to, from its own upwards. */
export async function loadWhatIfItems(reader: Reader): Promise<Map<string, WhatIfItem>> {
  const found = await rows<{ id: number; step: string; groups: number[] }>(
    reader,
    sql`
      with above as (select * from ${GROUP_ANCESTORS} a)
      select
        i.id, i.finest_step as step, (select array_agg(a.ancestor) from above a where a.id = i.group_id) as groups
      from items i`,
  )
  return new Map(found.map((row) => [String(row.id), { step: row.step, groups: row.groups }]))
}

/**
 * The nodes that a plan is about: all, those of some groups, or some products with all that is in them. Everything is
 * computed either way.
 */
export async function nodesInScope(
  reader: Reader,
  input: PlanInput,
  scope: PlanScope,
): Promise<ReadonlySet<string> | null> {
  if (scope.items === 'all') {
    return null
  }
  if (scope.items === 'groups') {
    const items = await loadWhatIfItems(reader)
    return new Set(
      input.nodes
        .map((node) => node.id)
        .filter((id) => items.get(String(itemOf(id)))?.groups.some((group) => scope.of.includes(group))),
    )
  }
  const nodes = new Map(input.nodes.map((node) => [node.id, node]))
  const reached = new Set<string>()
  const reach = (id: string): void => {
    const source = nodes.get(id)?.source
    if (source === undefined || reached.has(id)) {
      return
    }
    reached.add(id)
    if (source.kind === 'make') {
      for (const component of source.components) {
        reach(component.node)
      }
    }
    if (source.kind === 'break down' || source.kind === 'move') {
      reach(source.from)
    }
  }
  for (const { id } of input.nodes) {
    if (scope.of.includes(itemOf(id))) {
      reach(id)
    }
  }
  return reached
}
