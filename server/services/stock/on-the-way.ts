import { sql } from 'drizzle-orm'
import { pick } from '~~/core/stock'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import type { Given, GivenQuantity } from '~~/core/units/quantity'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { ShipTransfer } from '~~/shared/stock/transfers'
import { readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { lotToTake, pieceToTake } from './lots'
import { bin, externalPlace } from '../../ledger/external-places'
import { loadPickable } from './pickable'
import type { DraftMove } from '../../ledger/post'
import { type Transfer, siteName, type Line, lineOf } from './transfer-lines'
import type { OnTheWay } from '../../../shared/stock/answers'

export async function sourcesOf(
  tx: Tx,
  { transfer, today }: { readonly transfer: Transfer; readonly today: string },
  part: Given<ShipTransfer['lines'][number]>,
  { item, quantity }: { readonly item: MeasuredItem; readonly quantity: Ratio },
  pathOf: (field: string) => string,
): Promise<Pick<DraftMove, 'lotId' | 'pieceId' | 'quantity' | 'from'>[]> {
  if (part.binId !== null) {
    const from = await bin(tx, part.binId, pathOf('binId'), 'take')
    if (from.siteId !== transfer.fromSiteId) {
      refuseField(pathOf('binId'), 'That bin is at another site.')
    }
    const piece = await pieceToTake(tx, item, part.piece, pathOf('piece'))
    return [
      {
        lotId: piece ? piece.lotId : await lotToTake(tx, item, part.lot, pathOf('lot')),
        pieceId: piece?.id ?? null,
        quantity,
        from,
      },
    ]
  }
  const atSite = new Set(
    (await rows<{ id: number }>(tx, sql`select id from places where site_id = ${transfer.fromSiteId}`)).map((place) =>
      String(place.id),
    ),
  )
  const there = (await loadPickable(tx, [item.id]))
    .get(item.id)!
    .filter(
      (entry) =>
        atSite.has(entry.bin) &&
        (part.lot === '' || entry.lotNumber === part.lot) &&
        (part.piece === '' || entry.pieceLabel === part.piece),
    )
  const { picks, missing } = pick(there, quantity, today)
  if (missing.compare(ZERO) > 0) {
    const detail = `${item.code}: ${toText(quantity)} ${item.symbol} are to leave, and ${toText(quantity.sub(missing))} ${item.symbol} are free at ${await siteName(tx, transfer.fromSiteId)}.`
    throw new Refusal('short', detail, { [pathOf('quantity')]: detail })
  }
  return picks.map((p) => ({
    lotId: p.lot === null ? null : Number(p.lot),
    pieceId: p.piece === null ? null : Number(p.piece),
    quantity: p.quantity,
    from: { placeId: Number(p.bin), status: 'available' },
  }))
}

/** What of a transfer has left and neither arrived nor been given up, by lot and piece. */
export async function onTheWay(reader: Reader, id: number): Promise<OnTheWay[]> {
  return rows<OnTheWay>(
    reader,
    sql`
      select
        m.document_line_id as "lineId", m.item_id as "itemId", i.code, i.symbol, i.stock_unit as "stockUnit",
        m.lot_id as "lotId", l.number as lot, m.piece_id as "pieceId", c.label as piece,
        trim_scale(sum(case when t.kind = 'transit' then m.quantity else -m.quantity end))::text as quantity
      from moves m
      join transfer_lines tl on tl.id = m.document_line_id
      join places f on f.id = m.from_place_id
      join places t on t.id = m.to_place_id
      join ${MEASURED_ITEM} i on i.id = m.item_id
      left join lots l on l.id = m.lot_id
      left join pieces c on c.id = m.piece_id
      where tl.transfer_id = ${id} and m.item_id = tl.item_id and 'transit' in (f.kind, t.kind)
      group by 1, 2, 3, 4, 5, 6, 7, 8, 9, tl.line
      having sum(case when t.kind = 'transit' then m.quantity else -m.quantity end) <> 0
      order by tl.line, l.number, c.label`,
  )
}

interface TransferWithLines {
  readonly id: number
  readonly lines: readonly Line[]
  readonly items: ReadonlyMap<number, MeasuredItem>
}

/**
 * A move of goods that are on the way, to where they arrive or are given up. Errors: more than is on the way, beside
 * its field.
 */
export async function offTheWay(
  tx: Tx,
  { id, lines, items }: TransferWithLines,
  part: { lineId: number; lotId: number | null; pieceId: number | null; quantity: GivenQuantity; unit: string },
  index: string,
  target: DraftMove['to'],
): Promise<DraftMove> {
  const line = lineOf(lines, part.lineId)
  const item = items.get(line.itemId)!
  const read = readQuantity(item, part.quantity, part.unit, `${index}quantity`)
  const there = (await onTheWay(tx, id)).find(
    (w) => w.lineId === line.id && w.lotId === part.lotId && w.pieceId === part.pieceId,
  )
  if (!there || ratio(there.quantity).compare(read.quantity) < 0) {
    const detail = `${item.code}: ${there?.quantity ?? '0'} ${item.symbol} are on the way, and ${toText(read.quantity)} ${item.symbol} would arrive.`
    throw new Refusal('short', detail, { [`${index}quantity`]: detail })
  }
  return {
    itemId: item.id,
    lotId: part.lotId,
    pieceId: part.pieceId,
    quantity: read.quantity,
    from: await externalPlace(tx, 'transit'),
    to: target,
    entered: read.entered,
    unit: read.unit,
    residue: read.residue,
    valuation: { kind: 'method' },
    lineId: line.id,
  }
}
