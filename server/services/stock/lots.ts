import { and, eq } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar'
import type { Tx } from '~~/server/database/client'
import { lots } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Frame } from '../catalogue/frames'

interface LotFacts { readonly expiresOn: string | null, readonly receivedOn?: string, readonly madeOn?: string }

/** The lot that goods enter: an existing one of that number, or a new one. Null where the item is not tracked by lot. */
export async function lotToEnter(tx: Tx, frame: Frame, number: string, facts: LotFacts, field: string): Promise<number | null> {
  if (frame.tracking === 'none') return null
  if (number === '') throw fieldRefusal(field, `${frame.code} is tracked by lot. Give the lot number from the label.`)
  const [known] = await tx.select().from(lots).where(and(eq(lots.itemId, frame.id), eq(lots.number, number)))
  if (known) {
    if (facts.expiresOn !== null && known.expiresOn !== null && facts.expiresOn !== known.expiresOn) {
      throw fieldRefusal(field.replace(/lot$/, 'expiresOn'), `Lot ${number} is already here with the expiry date ${known.expiresOn}. Give that date, or another lot number.`)
    }
    return known.id
  }
  const start = facts.madeOn ?? facts.receivedOn
  const expiresOn = facts.expiresOn ?? (frame.shelfLifeDays !== null && start !== undefined ? toIso(toDay(start) + frame.shelfLifeDays) : null)
  const [made] = await tx.insert(lots).values({ itemId: frame.id, number, expiresOn, receivedOn: facts.receivedOn ?? facts.madeOn ?? null, madeOn: facts.madeOn ?? null }).onConflictDoNothing().returning({ id: lots.id })
  return made?.id ?? await lotToEnter(tx, frame, number, facts, field)
}

/** The lot that goods leave. Null where the item is not tracked by lot. */
export async function lotToTake(tx: Tx, frame: Frame, number: string, field: string): Promise<number | null> {
  if (frame.tracking === 'none') return null
  const [known] = await tx.select().from(lots).where(and(eq(lots.itemId, frame.id), eq(lots.number, number)))
  if (!known) throw fieldRefusal(field, number === '' ? `${frame.code} is tracked by lot. Give the lot number.` : `There is no lot ${number} of ${frame.code}.`)
  return known.id
}

const fieldRefusal = (field: string, detail: string): Refusal => new Refusal('invalid-input', detail, { [field]: detail })
