import { majorText } from '~~/core/money'
import { sql } from 'drizzle-orm'
import { grouped } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { loadWriting } from '~~/server/services/company/company'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'

/**
 * Refuses a correction that is worth more than its author's role may correct alone; what was posted is undone with the
 * transaction.
 */
export async function requireWithinLimit(tx: Tx, actor: Actor, worth: bigint): Promise<void> {
  const [own] = await rows<{ limit: string | null }>(
    tx,
    sql`select correction_limits->>${actor.role} as limit from company`,
  )
  if (own?.limit === null || own?.limit === undefined || worth <= BigInt(own.limit)) {
    return
  }
  const format = await loadWriting(tx)
  const money = (amount: bigint): string => grouped(majorText(amount), format)
  throw new Refusal(
    'missing-right',
    `This is worth ${money(worth)}. As ${actor.role} you may correct up to ${money(BigInt(own.limit))} at once; ask an owner to record it.`,
  )
}
