import { sql, type SQL } from 'drizzle-orm'
import { printAmount } from '~~/core/units/quantity'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { asNumeric, type MeasuredItem } from '../catalogue/measured-items'

/** Goods on hold that an inspection is about, where they lie now. Quantities in the stock unit. */
export interface HeldGoods {
  readonly placeId: number
  readonly bin: string
  readonly lotId: number | null
  readonly pieceId: number | null
  readonly piece: string
  readonly quantity: string
}

/**
 * What is still on hold of what an inspection was opened for: its lots and pieces wherever they were moved; of goods
 * without either as many as came, first where they were put.
 */
export async function heldFor(reader: Reader, inspectionId: number): Promise<HeldGoods[]> {
  const came = await rows<{ lotId: number | null; pieceId: number | null; quantity: string }>(
    reader,
    sql`
      select lot_id as "lotId", piece_id as "pieceId", sum(quantity)::text as quantity
      from inspection_goods
      where inspection_id = ${inspectionId}
      group by 1, 2
      order by 1, 2`,
  )
  const lying = await rows<HeldGoods>(
    reader,
    sql`
      select
        b.place_id as "placeId", p.name as bin, b.lot_id as "lotId", b.piece_id as "pieceId",
        coalesce(c.label, '') as piece, b.on_hand as quantity
      from inspections n
      join balances b on b.item_id = n.item_id and b.status = 'on hold' and b.on_hand > 0
      join places p on p.id = b.place_id and p.kind = 'bin'
      left join pieces c on c.id = b.piece_id
      where n.id = ${inspectionId}
        and exists (
          select 1
          from inspection_goods g
          where g.inspection_id = n.id
            and g.lot_id is not distinct from b.lot_id
            and g.piece_id is not distinct from b.piece_id
        )
      order by
        not exists (select 1 from inspection_goods g where g.inspection_id = n.id and g.place_id = b.place_id), b.id`,
  )
  return came.flatMap(({ lotId, pieceId, quantity }) => {
    let left = ratio(quantity)
    return lying
      .filter((goods) => goods.lotId === lotId && goods.pieceId === pieceId)
      .flatMap((goods) => {
        const own = least(left, ratio(goods.quantity))
        left = left.sub(own)
        return own.compare(ZERO) > 0 ? [{ ...goods, quantity: asNumeric(own) }] : []
      })
  })
}

const least = (one: Ratio, other: Ratio): Ratio => (one.compare(other) < 0 ? one : other)

/**
 * Goods that wait for an inspection do not leave their hold by another way.
 *
 * Errors: `not-now` beside the field, with the number of the inspection.
 */
export async function requireNotInspected(
  reader: Reader,
  item: MeasuredItem,
  goods: {
    readonly lotId: number | null
    readonly pieceId: number | null
    readonly quantity: Ratio
    readonly status: string | null
  },
  field: string,
): Promise<void> {
  if (goods.status !== 'on hold') {
    return
  }
  const same = (lot: SQL, piece: SQL): SQL => sql`
    ${lot} is not distinct from ${goods.lotId}::int and ${piece} is not distinct from ${goods.pieceId}::int`
  const [waiting] = await rows<{ number: string | null; quantity: string; held: string }>(
    reader,
    sql`
      select
        min(n.number) as number, coalesce(sum(g.quantity), 0)::text as quantity,
        (
          select coalesce(sum(b.on_hand), 0)::text
          from balances b
          where b.item_id = ${item.id} and b.status = 'on hold' and ${same(sql`b.lot_id`, sql`b.piece_id`)}
        ) as held
      from inspections n
      join inspection_goods g on g.inspection_id = n.id
      where n.item_id = ${item.id} and n.status = 'open' and ${same(sql`g.lot_id`, sql`g.piece_id`)}`,
  )
  const beside = ratio(waiting!.held).sub(ratio(waiting!.quantity))
  if (waiting!.number !== null && goods.quantity.compare(beside) > 0) {
    const rest =
      beside.compare(ZERO) > 0
        ? ` Only the ${printAmount(beside, 6, item.writing)} ${item.symbol} beside it can be taken.`
        : ''
    const detail = `This waits for inspection ${waiting!.number}, which says what becomes of it.${rest}`
    throw new Refusal('not-now', detail, { [field]: detail })
  }
}
