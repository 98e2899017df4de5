import { eq, sql } from 'drizzle-orm'
import { ratio, toText, ZERO } from '~~/core/units/exact'
import { db, rows, type Tx } from '~~/server/database/client'
import { anyOf, GROUP_ANCESTORS } from '~~/server/database/sql'
import { pieces } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { LotEdit, PieceEdit, SplitPiece, TraitValues } from '~~/shared/stock/requests'
import { loadMeasuredItem, readQuantity } from '../catalogue/measured-items'
import { pieceToEnter } from './lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { post, type DraftMove, type Posted } from '../../ledger/post'
import { saveDocument, lockAsSeen } from '../../documents'
import type { TraitRule } from '../../../shared/stock/answers'

/**
 * Cuts lengths off a piece; each becomes a piece of its own that points back, and what remains keeps its label.
 *
 * The goods pass through the workshop, so that where a part came from can be followed; value goes with the measure.
 */
export async function splitPiece(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Omit<SplitPiece, 'key'>,
): Promise<Posted & { labels: string[] }> {
  const [piece] = await tx.select().from(pieces).where(eq(pieces.id, id))
  if (!piece) {
    throw new Refusal('not-found', 'There is no such piece.')
  }
  const item = await loadMeasuredItem(tx, piece.itemId)
  const [here] = await rows<{ binId: number; onHand: string }>(
    tx,
    sql`
      select b.place_id as "binId", b.on_hand as "onHand"
      from balances b
      join places p on p.id = b.place_id and p.kind = 'bin'
      where b.piece_id = ${id} and b.on_hand > 0 and b.status = 'available'`,
  )
  if (!here) {
    throw new Refusal('not-now', `Nothing of ${piece.label} is available to cut.`)
  }
  const from = await bin(tx, here.binId, 'binId', 'take')
  const workshop = await externalPlace(tx, 'workshop')
  const taken = edit.parts.map((part, index) => readQuantity(item, part.quantity, part.unit, `parts.${index}.quantity`))
  const total = taken.reduce((sum, read) => sum.add(read.quantity), ZERO)
  if (total.compare(ratio(here.onHand)) >= 0) {
    throw new Refusal(
      'invalid-input',
      `${piece.label} measures ${toText(ratio(here.onHand))} ${item.symbol}; ${toText(total)} ${item.symbol} leave nothing of it. Cut off less.`,
      { 'parts.0.quantity': `Less than ${toText(ratio(here.onHand))} ${item.symbol} can be cut off.` },
    )
  }
  const base = { itemId: item.id, lotId: piece.lotId, unit: item.stockUnit, residue: ZERO }
  const moves: DraftMove[] = [
    {
      ...base,
      pieceId: id,
      quantity: total,
      from,
      to: workshop,
      entered: toText(total),
      valuation: { kind: 'method' },
    },
  ]
  for (const [index, read] of taken.entries()) {
    const part = edit.parts[index]!
    const pieceId = await pieceToEnter(
      tx,
      item,
      { label: part.label, lotId: piece.lotId, measure: toText(read.quantity), traits: piece.traits, parentId: id },
      `parts.${index}.label`,
    )
    const target =
      part.binId === null
        ? { placeId: here.binId, status: 'available' as const }
        : await bin(tx, part.binId, `parts.${index}.binId`, 'receive')
    moves.push({
      ...base,
      pieceId,
      quantity: read.quantity,
      from: workshop,
      to: target,
      entered: read.entered,
      unit: read.unit,
      residue: read.residue,
      valuation: { kind: 'share', weight: read.quantity },
    })
  }
  const posted = await post(tx, actor, { kind: 'cut', label: `Cut of ${piece.label}`, effectiveOn: actor.today, moves })
  const made = await tx
    .select({ label: pieces.label })
    .from(pieces)
    .where(
      anyOf(
        pieces.id,
        moves.slice(1).map((move) => move.pieceId!),
      ),
    )
    .orderBy(pieces.id)
  return { ...posted, labels: made.map((row) => row.label) }
}

/** Changes what is said of a lot; what moved stays as it is. */
export async function editLot(
  tx: Tx,
  actor: Actor,
  id: number,
  { version, ...edit }: LotEdit,
): Promise<{ version: number }> {
  const lot = await lockAsSeen(tx, 'lot', id, version)
  if (edit.madeOn !== null && edit.expiresOn !== null && edit.expiresOn < edit.madeOn) {
    throw new Refusal('invalid-input', 'It expires before it was made.', {
      expiresOn: 'It expires before it was made.',
    })
  }
  await requireTraits(tx, lot.itemId, edit.traits)
  return saveDocument(tx, actor, 'lot', lot, { set: edit })
}

export async function editPiece(
  tx: Tx,
  actor: Actor,
  id: number,
  { version, ...edit }: PieceEdit,
): Promise<{ version: number }> {
  const piece = await lockAsSeen(tx, 'piece', id, version)
  const [taken] = await tx
    .select({ id: pieces.id })
    .from(pieces)
    .where(sql`${pieces.label} = ${edit.label} and ${pieces.id} <> ${id}`)
  if (taken) {
    throw new Refusal('invalid-input', `There is a piece ${edit.label} already.`, {
      label: `There is a piece ${edit.label} already.`,
    })
  }
  await requireTraits(tx, piece.itemId, edit.traits)
  return saveDocument(tx, actor, 'piece', piece, { set: edit })
}

/** The traits that an item's group, or a group above it, asks for. */
export async function traitsOf(reader: Tx | typeof db, itemId: number): Promise<TraitRule[]> {
  return rows<TraitRule>(
    reader,
    sql`
      select distinct
        on (t->>'name') t->>'name' as name, t->>'kind' as kind, t->>'unit' as unit,
        coalesce(t->>'choices', '') as choices
      from items i
      join ${GROUP_ANCESTORS} a on a.id = i.group_id
      join item_groups g on g.id = a.ancestor
      cross join jsonb_array_elements(g.traits) t
      where i.id = ${itemId}
      order by t->>'name', a.height`,
  )
}

/**
 * Refuses trait values that their rule does not allow. A trait that the group does not name is kept as it is written.
 */
export async function requireTraits(tx: Tx, itemId: number, traits: TraitValues, index = 'traits.'): Promise<void> {
  if (Object.keys(traits).length === 0) {
    return
  }
  for (const rule of await traitsOf(tx, itemId)) {
    const value = traits[rule.name]
    if (value === undefined) {
      continue
    }
    const choices = rule.choices.split(',').map((choice) => choice.trim())
    let detail
    if (rule.kind === 'number' && !/^-?\d+(\.\d+)?$/.test(value)) {
      detail = `“${value}” is no number for ${rule.name}.`
    } else if (rule.kind === 'choice' && !choices.includes(value)) {
      detail = `Choose ${rule.name}: ${choices.join(', ')}.`
    } else {
      detail = null
    }
    if (detail !== null) {
      throw new Refusal('invalid-input', detail, { [`${index}${rule.name}`]: detail })
    }
  }
}
