import { sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { ratio } from '~~/core/units/exact'
import { db, rows, type Tx } from '~~/server/database/client'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { isRole } from '~~/shared/company/rights'
import { noteChange } from '../../documents'

/** Closes the books through a day, or opens them again: nothing is recorded on a closed day. */
export async function closeBooks(
  tx: Tx,
  actor: Actor,
  through: string | null,
): Promise<{ closedThrough: string | null }> {
  if (through !== null && through >= actor.today) {
    refuseField('through', 'Only days that are over can be closed.')
  }
  await rows(tx, sql`select pg_advisory_xact_lock(7301)`)
  const [before] = await rows<{ closedThrough: string | null }>(
    tx,
    sql`select closed_through as "closedThrough" from company`,
  )
  await rows(tx, sql`update company set closed_through = ${through}`)
  await noteChange(tx, actor, { kind: 'books', id: 'closed' }, before!, { closedThrough: through })
  return { closedThrough: through }
}

/** What each role may correct alone, in the company's currency; empty is anything. */
export async function setLimits(
  tx: Tx,
  actor: Actor,
  limits: Readonly<Record<string, string>>,
): Promise<{ limits: Record<string, string> }> {
  for (const role of Object.keys(limits)) {
    if (!isRole(role)) {
      refuseField(`limits.${role}`, 'There is no such role.')
    }
  }
  const kept = Object.fromEntries(
    Object.entries(limits)
      .filter(([, amount]) => amount !== '')
      .map(([role, amount]) => [role, lineValue(ratio(amount), ratio(1)).toString()]),
  )
  const [before] = await rows<{ limits: Record<string, string> }>(
    tx,
    sql`select correction_limits as limits from company`,
  )
  await rows(tx, sql`update company set correction_limits = ${JSON.stringify(kept)}::jsonb`)
  await noteChange(tx, actor, { kind: 'books', id: 'limits' }, before!, { limits: kept })
  return { limits: kept }
}

export async function loadBookSettings(): Promise<{ closedThrough: string | null; limits: Record<string, string> }> {
  const [own] = await rows<{ closedThrough: string | null; limits: Record<string, string> }>(
    db,
    sql`select closed_through as "closedThrough", correction_limits as limits from company`,
  )
  return own ?? { closedThrough: null, limits: {} }
}
