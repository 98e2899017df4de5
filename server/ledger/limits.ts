import { majorText } from '~~/core/money'
import { sql } from 'drizzle-orm'
import { grouped, type DecimalSign } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'

/** Refuses a correction that is worth more than its author's role may correct alone; what was posted is undone with the transaction. */
export async function requireWithinLimit(tx: Tx, actor: Actor, worth: bigint): Promise<void> {
  const [own] = await rows<{ limit: string | null; decimalSign: DecimalSign }>(
    tx,
    sql`select correction_limits->>${actor.role} as limit, decimal_sign as "decimalSign" from company`,
  )
  if (own?.limit === null || own?.limit === undefined || worth <= BigInt(own.limit)) {
    return
  }
  const money = (amount: bigint): string => grouped(majorText(amount), own.decimalSign)
  throw new Refusal(
    'missing-right',
    `This is worth ${money(worth)}. As ${actor.role} you may correct up to ${money(BigInt(own.limit))} at once; ask an owner to record it.`,
  )
}
