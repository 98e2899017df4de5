import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db, type Reader, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Unkit } from '~~/shared/workshop/requests'
import { asNumeric, loadMeasuredItem, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { pieceToEnter } from '../stock/lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { loadPickable } from '../stock/pickable'
import { post, postIfAny, type DraftMove, type End } from '../../ledger/post'
import { billInUse } from '../structure/bills'
import { needsByBill, type BillNeed } from './bill-needs'
import { packedFrom, type PackedPart } from './packed-from'
import type { KitToUnpack } from '../../../shared/workshop/answers'

/** A kit that is packed, where it lies and what is in one. */
export async function kitToUnkit(itemId: number, today: string): Promise<KitToUnpack> {
  const item = await loadMeasuredItem(db, itemId)
  const { needs, items } = await contentsOf(db, item, ratio(1), today)
  const stock = (await loadPickable(db, [itemId]))
    .get(itemId)!
    .filter((entry) => entry.status === 'available' && entry.onHand.compare(entry.allocated) > 0)
  return {
    itemId,
    code: item.code,
    name: item.name,
    unit: item.stockUnit,
    symbol: item.symbol,
    choices: stock.map((piece) => ({
      balanceId: piece.balanceId,
      binId: Number(piece.bin),
      bin: piece.binName,
      lot: piece.lotNumber,
      free: toText(piece.onHand.sub(piece.allocated)),
    })),
    parts: needs.map((need) => {
      const part = items.get(need.itemId)!
      return {
        itemId: part.id,
        code: part.code,
        name: part.name,
        unit: part.stockUnit,
        symbol: part.symbol,
        each: toText(need.quantity),
      }
    }),
  }
}

/**
 * What is in so many of a kit, by the contents in use; a kit that was packed as another revision says is unpacked as it
 * is packed now.
 */
async function contentsOf(
  reader: Reader,
  item: MeasuredItem,
  quantity: Ratio,
  today: string,
): Promise<{ needs: BillNeed[]; items: ReadonlyMap<number, MeasuredItem> }> {
  const bomId = item.source === 'kit' ? await billInUse(reader as Tx, item.id, today) : null
  if (bomId === null) {
    throw new Refusal('invalid-input', `${item.code} is no kit with contents in use, so there is nothing to unpack.`, {
      itemId: 'Choose a kit that is packed.',
    })
  }
  return needsByBill(reader, { itemId: item.id, bomId, quantity }, today)
}

/**
 * Takes kits apart: their value goes to the parts by what these stand at. Parts that come back damaged are kept as
 * damaged goods, or thrown away with a correction, so that nothing disappears without a line.
 */
export async function unkit(
  tx: Tx,
  actor: Actor,
  edit: Omit<Unkit, 'key'>,
): Promise<{ postingId: number; quantity: string; parts: { code: string; quantity: string; damaged: string }[] }> {
  const item = await loadMeasuredItem(tx, edit.itemId)
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity')
  const { needs, items } = await contentsOf(tx, item, read.quantity, actor.today)
  const goods = await kitsAt(tx, item.id, edit.balanceId)
  const workshop = await externalPlace(tx, 'workshop')
  const target = await bin(tx, edit.binId, 'binId', 'receive')
  const { quantity, entered, unit, residue } = read
  const moves: DraftMove[] = [
    {
      itemId: item.id,
      lotId: goods.lot === null ? null : Number(goods.lot),
      pieceId: null,
      quantity,
      from: { placeId: Number(goods.bin), status: 'available' },
      to: workshop,
      entered,
      unit,
      residue,
      valuation: { kind: 'method' },
    },
  ]
  const away: DraftMove[] = []
  const correction = await externalPlace(tx, 'correction')
  const parts: { code: string; quantity: string; damaged: string }[] = []
  for (const need of needs) {
    const part = items.get(need.itemId)!
    const broken = damagedOf(edit, part, need.quantity)
    const weight = ratio(need.planned).compare(ZERO) > 0 ? ratio(need.planned) : ratio(1)
    const lots = await packedFrom(tx, { item, lot: goods.lot }, part, need.quantity)
    for (const returned of splitDamaged(lots, broken.quantity)) {
      const back = await backOf(tx, part, returned)
      const to = { placeId: target.placeId, status: statusOf(returned, target.status) }
      moves.push({
        ...back,
        from: workshop,
        to,
        valuation: { kind: 'share', weight: weight.mul(returned.quantity) },
      })
      if (returned.isDamaged && broken.away) {
        away.push({ ...back, from: to, to: correction, valuation: { kind: 'method' } })
      }
    }
    parts.push({ code: part.code, quantity: toText(need.quantity), damaged: toText(broken.quantity) })
  }
  const postingId = await postUnpacking(tx, actor, { item, quantity: read.quantity, moves, away })
  return { postingId, quantity: toText(read.quantity), parts }
}

/** The unpacking, and a correction beside it for what is thrown away. */
async function postUnpacking(
  tx: Tx,
  actor: Actor,
  unpacking: { item: MeasuredItem; quantity: Ratio; moves: readonly DraftMove[]; away: readonly DraftMove[] },
): Promise<number> {
  const { item, quantity, moves, away } = unpacking
  const posted = await post(tx, actor, {
    kind: 'unpacking',
    label: `Unpacking of ${toText(quantity)} ${item.symbol} ${item.code}`,
    effectiveOn: actor.today,
    moves,
  })
  await postIfAny(tx, actor, {
    kind: 'correction',
    label: `Parts of ${item.code} damaged, thrown away`,
    reason: 'damage',
    effectiveOn: actor.today,
    moves: away,
  })
  return posted.postingId
}

async function kitsAt(tx: Tx, itemId: number, balanceId: number) {
  const goods = (await loadPickable(tx, [itemId])).get(itemId)!.find((entry) => entry.balanceId === balanceId)
  if (goods?.status !== 'available') {
    throw new Refusal('invalid-input', 'These kits are not there any more. Reload the page.', {
      balanceId: 'Choose where they lie.',
    })
  }
  return goods
}

interface Returned extends PackedPart {
  readonly isDamaged: boolean
}

/** What comes back of each lot, good and damaged; the damaged ones are of the first lots. */
function splitDamaged(lots: readonly PackedPart[], damaged: Ratio): readonly Returned[] {
  let left = damaged
  return lots.flatMap((entry) => {
    const bad = left.compare(entry.quantity) < 0 ? left : entry.quantity
    left = left.sub(bad)
    return [
      { ...entry, quantity: entry.quantity.sub(bad), isDamaged: false },
      { ...entry, quantity: bad, isDamaged: true },
    ].filter((returned) => returned.quantity.compare(ZERO) > 0)
  })
}

/**
 * A piece that went in whole comes back under its label; what was cut from one gets a label of its own, with its
 * traits.
 */
async function backOf(
  tx: Tx,
  part: MeasuredItem,
  { lotId, piece, quantity, isDamaged }: Returned,
): Promise<Pick<DraftMove, 'itemId' | 'lotId' | 'pieceId' | 'quantity' | 'entered' | 'unit' | 'residue'>> {
  const cutFrom = piece === null ? {} : { traits: piece.traits, parentId: piece.id }
  const pieceId =
    piece?.isGone && !isDamaged
      ? piece.id
      : await pieceToEnter(tx, part, { label: '', lotId, measure: asNumeric(quantity), ...cutFrom }, 'binId')
  return {
    itemId: part.id,
    lotId,
    pieceId,
    quantity,
    entered: toText(quantity),
    unit: part.stockUnit,
    residue: ZERO,
  }
}

function statusOf({ isDamaged, isUnknown }: Returned, usual: End['status']): End['status'] {
  if (isDamaged) {
    return 'damaged'
  }
  return isUnknown ? 'on hold' : usual
}

function damagedOf(edit: Omit<Unkit, 'key'>, part: MeasuredItem, there: Ratio): { quantity: Ratio; away: boolean } {
  const index = edit.damaged.findIndex((entry) => entry.itemId === part.id)
  const said = edit.damaged[index]
  if (!said || said.quantity.trim() === '' || said.quantity.trim() === '0') {
    return { quantity: ZERO, away: false }
  }
  const { quantity } = readQuantity(part, said.quantity, said.unit, `damaged.${index}.quantity`)
  if (quantity.compare(there) > 0) {
    throw new Refusal('invalid-input', `Only ${toText(there)} ${part.symbol} ${part.code} come out.`, {
      [`damaged.${index}.quantity`]: `Only ${toText(there)} ${part.symbol} come out.`,
    })
  }
  return { quantity, away: said.away }
}
