import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { loadWriting } from '~~/server/services/company/company'
import { printAmount } from '~~/core/units/quantity'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { packingLists } from '~~/server/database/schema'
import { anyOf, isLive } from '~~/server/database/sql'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { MeasuredItem } from '../catalogue/measured-items'

/** What is checked of a receipt as a whole. */
export interface ReceiptHead {
  readonly supplierId: number
  readonly number: string
  readonly orderedOn: string
  readonly packingList: string
  /** The person has seen that the list was received before. */
  readonly sameList: boolean
  readonly effectiveOn: string
  readonly today: string
}

/**
 * Goods do not come before they are ordered, and a packing list of a supplier does not come twice unless somebody says
 * so. Errors: `invalid-input`, `taken`.
 */
export async function requireSoundReceipt(tx: Tx, head: ReceiptHead): Promise<void> {
  const { dateFormat } = await loadWriting(tx)
  if (head.effectiveOn < head.orderedOn) {
    refuseField(
      'effectiveOn',
      `${head.number} was ordered on ${printDay(head.orderedOn, head.today, dateFormat)}; nothing of it came before that.`,
    )
  }
  if (head.packingList === '' || head.sameList) {
    return
  }
  const [first] = await rows<{ number: string; day: string }>(
    tx,
    sql`
      select p.number, o.effective_on as day
      from packing_lists l
      join postings o on o.id = l.posting_id
      join purchase_orders p on o.document_kind = 'purchase order' and p.id = o.document_id
      where l.supplier_id = ${head.supplierId}
        and lower(l.number) = lower(${head.packingList})
        and ${isLive('o')}
      order by o.id
      limit 1`,
  )
  if (first) {
    const detail = `Packing list ${head.packingList} was received on ${printDay(first.day, head.today, dateFormat)} for ${first.number} already.`
    throw new Refusal('taken', detail, { packingList: detail })
  }
}

/** Keeps with which packing list goods came, where they had one. */
export async function keepPackingList(
  tx: Tx,
  postingId: number | null,
  supplierId: number,
  number: string,
): Promise<void> {
  if (postingId !== null && number !== '') {
    await tx.insert(packingLists).values({ postingId, supplierId, number })
  }
}

/** What a line of a receipt comes to. */
export interface ReceiptLine {
  readonly item: MeasuredItem
  /** In the stock unit; `received`: before this. */
  readonly ordered: { readonly quantity: string; readonly received: Ratio }
  /** In per cent of what was ordered: so much more is taken in without a reason. */
  readonly tolerance: Ratio
  /** What comes now, before it is rounded to finest steps. */
  readonly exact: Ratio
  readonly lots: readonly string[]
  readonly expiresOn: string | null
  readonly reason: string
}

/**
 * More than was ordered, or a lot that has expired, is taken in only with a reason. Errors: `invalid-input` beside the
 * reason.
 */
export async function requireReason(tx: Tx, line: ReceiptLine, day: string, field: string): Promise<void> {
  if (line.reason !== '') {
    return
  }
  const { item, ordered, tolerance } = line
  const quantity = ratio(ordered.quantity)
  const over = ordered.received.add(line.exact).sub(quantity)
  const taken = quantity.mul(tolerance).div(100)
  if (over.sub(taken).compare(item.measure.finestStep) >= 0) {
    const beyond = tolerance.equals(ZERO) ? '' : `; up to ${toText(tolerance)} % more are taken in without a word`
    refuseField(
      field,
      `${printAmount(over, 6, item.writing)} ${item.symbol} ${item.code} more than was ordered${beyond}. Say why it is taken in.`,
    )
  }
  const expired = await expiredOf(tx, line, day)
  if (expired !== null) {
    refuseField(field, `${expired}. Say why it is taken in.`)
  }
}

/** How much more than was ordered is taken in without a reason, in per cent: the item's, else the supplier's. */
export async function tolerancesOf(
  tx: Tx,
  supplierId: number,
  itemIds: readonly number[],
): Promise<ReadonlyMap<number, Ratio>> {
  const found = await rows<{ id: number; percent: string }>(
    tx,
    sql`
      select i.id, coalesce(i.over_delivery, s.over_delivery, 0)::text as percent
      from items i
      join suppliers s on s.id = ${supplierId}
      where ${anyOf(sql`i.id`, itemIds)}`,
  )
  return new Map(found.map(({ id, percent }) => [id, ratio(percent)]))
}

async function expiredOf(tx: Tx, { item, lots, expiresOn }: ReceiptLine, day: string): Promise<string | null> {
  if (expiresOn !== null && expiresOn < day) {
    return `${item.code} expired on ${printDay(expiresOn, day, item.writing.dateFormat)}`
  }
  if (lots.length === 0) {
    return null
  }
  const [known] = await rows<{ number: string; expires: string }>(
    tx,
    sql`
      select number, expires_on as expires
      from lots
      where item_id = ${item.id}
        and ${anyOf(sql`number`, lots)}
        and expires_on < ${day}
      limit 1`,
  )
  return known === undefined
    ? null
    : `Lot ${known.number} of ${item.code} expired on ${printDay(known.expires, day, item.writing.dateFormat)}`
}
