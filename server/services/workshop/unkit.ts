import { sql } from 'drizzle-orm'
import { ratio, toSteps, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { Unkit } from '~~/shared/workshop/requests'
import { asNumeric, loadMeasuredItem, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { lotToEnter, pieceToEnter } from '../stock/lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { loadPickable } from '../stock/pickable'
import { post, postIfAny, type DraftMove } from '../../ledger/post'
import { billInUse } from '../structure/bills'
import { needsByBill, type BillNeed } from './bill-needs'
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

/** What is in so many of a kit, by the contents in use; a kit that was packed as another revision says is unpacked as it is packed now. */
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
 * Takes kits apart: their value goes to the parts by what these stand at. Parts that come back damaged are kept as damaged goods, or
 * thrown away with a correction, so that nothing disappears without a line.
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
    const lots = await packedFrom(tx, { kit: item, lot: goods.lot, today: actor.today }, part, need.quantity)
    for (const returned of splitDamaged(lots, broken.quantity)) {
      const back = await backOf(tx, part, returned)
      const to = { placeId: target.placeId, status: returned.isDamaged ? ('damaged' as const) : target.status }
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

interface Returned {
  readonly lotId: number | null
  readonly quantity: Ratio
  readonly isDamaged: boolean
}

/** What comes back of each lot, good and damaged; the damaged ones are of the first lots. */
function splitDamaged(
  lots: readonly { readonly lotId: number | null; readonly quantity: Ratio }[],
  damaged: Ratio,
): readonly Returned[] {
  let left = damaged
  return lots.flatMap(({ lotId, quantity }) => {
    const bad = left.compare(quantity) < 0 ? left : quantity
    left = left.sub(bad)
    return [
      { lotId, quantity: quantity.sub(bad), isDamaged: false },
      { lotId, quantity: bad, isDamaged: true },
    ].filter((returned) => returned.quantity.compare(ZERO) > 0)
  })
}

async function backOf(
  tx: Tx,
  part: MeasuredItem,
  { lotId, quantity }: Returned,
): Promise<Pick<DraftMove, 'itemId' | 'lotId' | 'pieceId' | 'quantity' | 'entered' | 'unit' | 'residue'>> {
  const pieceId = await pieceToEnter(tx, part, { label: '', lotId, measure: asNumeric(quantity) }, 'binId')
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

/** The lots that a part goes back to: those it was packed from, the last packing first; else a lot that tells where it comes from. */
async function packedFrom(
  tx: Tx,
  { kit, lot: kitLot, today }: { readonly kit: MeasuredItem; readonly lot: string | null; readonly today: string },
  part: MeasuredItem,
  quantity: Ratio,
): Promise<{ lotId: number | null; quantity: Ratio }[]> {
  if (part.tracking === 'none') {
    return [{ lotId: null, quantity }]
  }
  const packed = await rows<{ lotId: number | null; quantity: string }>(
    tx,
    sql`
      select m.lot_id as "lotId", sum(m.quantity) as quantity
      from postings o
      join moves m on m.posting_id = o.id and m.item_id = ${part.id}
      join places t on t.id = m.to_place_id and t.kind = 'workshop'
      where o.kind in ('kit packing', 'build')
        and ${isLive('o')}
        and exists (
          select 1
          from moves k
          join places f on f.id = k.from_place_id and f.kind = 'workshop'
          where k.posting_id = o.id
            and k.item_id = ${kit.id}
            and (${kitLot}::int is null or k.lot_id = ${kitLot}::int)
        )
      group by o.id, m.lot_id
      order by o.id desc
      limit 50`,
  )
  const found: { lotId: number | null; quantity: Ratio }[] = []
  let left = quantity
  for (const entry of packed) {
    if (left.compare(ZERO) <= 0) {
      break
    }
    const taken =
      ratio(entry.quantity).compare(left) < 0
        ? toSteps(ratio(entry.quantity), part.measure.finestStep, 'recorded').quantity
        : left
    found.push({ lotId: entry.lotId, quantity: taken })
    left = left.sub(taken)
  }
  if (left.compare(ZERO) > 0) {
    found.push({
      lotId: await lotToEnter(tx, part, `${kit.code} ${today}`, { expiresOn: null, receivedOn: today }, 'binId'),
      quantity: left,
    })
  }
  return found
}
