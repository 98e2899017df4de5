import { and, eq } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import type { Tx } from '~~/server/database/client'
import { lots, pieces } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { TraitValues } from '~~/shared/stock/requests'
import type { MeasuredItem } from '../catalogue/measured-items'
import { nextNumber } from '../../documents'

interface LotFacts {
  readonly expiresOn: string | null
  readonly receivedOn?: string
  readonly madeOn?: string
  readonly traits?: TraitValues
  readonly supplierNumber?: string
}

/**
 * The lot that goods enter: an existing one of that number, or a new one. Null where the item has no lots, or a piece
 * comes without one.
 */
export async function lotToEnter(
  tx: Tx,
  item: MeasuredItem,
  number: string,
  facts: LotFacts,
  field: string,
): Promise<number | null> {
  if (item.tracking === 'none' || (item.tracking === 'piece' && number === '')) {
    return null
  }
  if (number === '') {
    throw fieldRefusal(field, `${item.code} is tracked by lot. Give the lot number from the label.`)
  }
  const [known] = await tx
    .select()
    .from(lots)
    .where(and(eq(lots.itemId, item.id), eq(lots.number, number)))
  if (known) {
    requireSameFacts(known, facts, field)
    await addTraits(tx, known, facts.traits ?? {})
    return known.id
  }
  const [made] = await tx
    .insert(lots)
    .values({ itemId: item.id, number, ...newLot(item, facts) })
    .onConflictDoNothing()
    .returning({ id: lots.id })
  return made?.id ?? (await lotToEnter(tx, item, number, facts, field))
}

const newLot = (item: MeasuredItem, facts: LotFacts) => ({
  expiresOn: facts.expiresOn ?? expiryOf(item, facts.madeOn ?? facts.receivedOn),
  receivedOn: facts.receivedOn ?? facts.madeOn ?? null,
  madeOn: facts.madeOn ?? null,
  traits: facts.traits ?? {},
  supplierNumber: facts.supplierNumber ?? '',
})

type Lot = typeof lots.$inferSelect

/** Goods that are said to be of a lot that is here cannot be said to be something else. */
function requireSameFacts(known: Lot, facts: LotFacts, field: string): void {
  if (facts.expiresOn !== null && known.expiresOn !== null && facts.expiresOn !== known.expiresOn) {
    throw fieldRefusal(
      field.replace(/lot$/, 'expiresOn'),
      `Lot ${known.number} is already here with the expiry date ${known.expiresOn}. Give that date, or another lot number.`,
    )
  }
  const other = Object.entries(facts.traits ?? {}).find(
    ([name, value]) => known.traits[name] !== undefined && known.traits[name] !== value,
  )
  if (other) {
    const [name] = other
    throw fieldRefusal(
      field,
      `Lot ${known.number} is already here with ${name} ${known.traits[name]}. Give that, or another lot number.`,
    )
  }
}

async function addTraits(tx: Tx, known: Lot, traits: TraitValues): Promise<void> {
  if (Object.keys(traits).some((name) => known.traits[name] === undefined)) {
    await tx
      .update(lots)
      .set({ traits: { ...traits, ...known.traits } })
      .where(eq(lots.id, known.id))
  }
}

/** The day after which goods made or received on a day are no longer good, by the item's shelf life. */
const expiryOf = (item: MeasuredItem, start: string | undefined): string | null =>
  item.shelfLifeDays !== null && start !== undefined ? toIso(toDay(start) + item.shelfLifeDays) : null

/** The lot that goods leave. Null where the item has no lots, or a piece none. */
export async function lotToTake(tx: Tx, item: MeasuredItem, number: string, field: string): Promise<number | null> {
  if (item.tracking === 'none' || (item.tracking === 'piece' && number === '')) {
    return null
  }
  const [known] = await tx
    .select()
    .from(lots)
    .where(and(eq(lots.itemId, item.id), eq(lots.number, number)))
  if (!known) {
    throw fieldRefusal(
      field,
      number === ''
        ? `${item.code} is tracked by lot. Give the lot number.`
        : `There is no lot ${number} of ${item.code}.`,
    )
  }
  return known.id
}

interface PieceFacts {
  readonly label: string
  readonly lotId: number | null
  readonly measure: string
  readonly traits?: TraitValues
  readonly parentId?: number
  readonly note?: string
}

/**
 * A new piece, under the label given or the next of the item; null where the item has none. Pieces are made once: a
 * label is never used again.
 */
export async function pieceToEnter(
  tx: Tx,
  item: MeasuredItem,
  facts: PieceFacts,
  field: string,
): Promise<number | null> {
  if (item.tracking !== 'piece') {
    return null
  }
  const label = facts.label === '' ? await nextNumber(tx, item.code) : facts.label
  const [made] = await tx
    .insert(pieces)
    .values({
      itemId: item.id,
      lotId: facts.lotId,
      label,
      original: facts.measure,
      traits: facts.traits ?? {},
      parentId: facts.parentId ?? null,
      note: facts.note ?? '',
    })
    .onConflictDoNothing()
    .returning({ id: pieces.id })
  if (made) {
    return made.id
  }
  if (facts.label === '') {
    return pieceToEnter(tx, item, facts, field)
  }
  throw fieldRefusal(field, `There is a piece ${label} already. Give another label, or leave it empty.`)
}

/** The piece of an item that has this label, if there is one. */
export async function pieceNamed(
  tx: Tx,
  item: MeasuredItem,
  label: string,
): Promise<{ id: number; lotId: number | null } | null> {
  if (item.tracking !== 'piece' || label === '') {
    return null
  }
  const [known] = await tx
    .select({ id: pieces.id, lotId: pieces.lotId })
    .from(pieces)
    .where(and(eq(pieces.itemId, item.id), eq(pieces.label, label)))
  return known ?? null
}

/** The piece that goods leave, with its lot; null where the item has no pieces. */
export async function pieceToTake(
  tx: Tx,
  item: MeasuredItem,
  label: string,
  field: string,
): Promise<{ id: number; lotId: number | null } | null> {
  if (item.tracking !== 'piece') {
    return null
  }
  const known = await pieceNamed(tx, item, label)
  if (!known) {
    throw fieldRefusal(
      field,
      label === ''
        ? `${item.code} is kept in pieces. Give the label of the piece.`
        : `There is no piece ${label} of ${item.code}.`,
    )
  }
  return known
}

const fieldRefusal = (field: string, detail: string): Refusal =>
  new Refusal('invalid-input', detail, { [field]: detail })
