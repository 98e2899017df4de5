import { eq, sql } from 'drizzle-orm'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { buyingWants } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewWant } from '~~/shared/purchasing/requests'
import { noteChange } from '../../../documents'
import { asNumeric, loadMeasuredItem, readQuantity, requireUsable } from '../../catalogue/measured-items'
import { requireSite } from '../order-lines'

/** Something that somebody wants bought. Quantity in the stock unit. */
export interface Want {
  readonly id: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly quantity: string
  readonly neededOn: string
  readonly siteId: number | null
  readonly site: string | null
  readonly note: string
  readonly who: string
  readonly salesOrderId: number | null
  readonly salesOrder: string | null
  readonly customer: string | null
  readonly isDirect: boolean
}

/**
 * Writes down that something wants buying.
 *
 * Errors: `invalid-input` beside the field; more than the line of the sales order is open for.
 */
export async function noteWant(
  tx: Tx,
  actor: Actor,
  edit: Omit<NewWant, 'key' | 'isDirect'> & Partial<Pick<NewWant, 'isDirect'>>,
): Promise<{ id: number }> {
  const item = await loadMeasuredItem(tx, edit.itemId)
  requireUsable(item, 'itemId', 'buy')
  await requireSite(tx, edit.siteId)
  const read = readQuantity(item, edit.quantity, edit.unit, 'quantity', 'required')
  if (edit.salesLineId !== null) {
    await requireOpenLine(tx, edit.salesLineId, edit.itemId)
  }
  const [made] = await tx
    .insert(buyingWants)
    .values({
      itemId: edit.itemId,
      entered: read.entered,
      unit: read.unit,
      quantity: asNumeric(read.quantity),
      neededOn: edit.neededOn,
      siteId: edit.siteId,
      note: edit.note,
      salesLineId: edit.salesLineId,
      isDirect: (edit.isDirect ?? false) && edit.salesLineId !== null,
      userId: actor.userId,
      notedOn: actor.today,
    })
    .returning({ id: buyingWants.id })
  await noteChange(tx, actor, { kind: 'buying list', id: made!.id }, null, edit)
  return made!
}

async function requireOpenLine(tx: Tx, lineId: number, itemId: number): Promise<void> {
  const [line] = await rows<{ itemId: number; status: string; number: string }>(
    tx,
    sql`
      select l.item_id as "itemId", o.status, o.number
      from sales_lines l
      join sales_orders o on o.id = l.order_id
      where l.id = ${lineId}`,
  )
  if (line?.itemId !== itemId) {
    return refuseField('salesLineId', 'This line of the order is gone. Reload the page.')
  }
  if (line.status !== 'open') {
    throw new Refusal('not-now', `${line.number} is ${line.status} already.`)
  }
}

/** Takes something off the list that nobody needs any more. Errors: `not-found`; `not-now` where it is ordered. */
export async function dropWant(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const [want] = await rows<{ status: string; isWanted: boolean }>(
    tx,
    sql`select w.status, ${IS_WANTED} as "isWanted" from buying_wants w where w.id = ${id} for update of w`,
  )
  if (!want) {
    throw new Refusal('not-found', 'There is no such line on the buying list.')
  }
  if (!want.isWanted) {
    throw new Refusal('not-now', `This is ${want.status} already.`)
  }
  await tx.update(buyingWants).set({ status: 'dropped' }).where(eq(buyingWants.id, id))
  await noteChange(tx, actor, { kind: 'buying list', id }, { status: want.status }, { status: 'dropped' })
  return { id }
}

/**
 * Whether a line of the list, `w`, is still wanted: it was never ordered, or its order was cancelled or has no line of
 * the item any more.
 */
export const IS_WANTED = sql`
  (
    w.status = 'open'
      or w.status = 'ordered'
        and not exists (
          select 1
          from purchase_lines k
          join purchase_orders o on o.id = k.order_id and o.status <> 'cancelled'
          where k.order_id = w.order_id and k.item_id = w.item_id
        )
  )`

/** What is written down and still wanted. */
export const openWants = (reader: Reader): Promise<Want[]> =>
  rows<Want>(
    reader,
    sql`
      select
        w.id, w.item_id as "itemId", i.code, i.name, i.symbol, trim_scale(w.quantity)::text as quantity,
        w.needed_on as "neededOn", w.site_id as "siteId", s.name as site, w.note, u.name as who,
        so.id as "salesOrderId", so.number as "salesOrder", c.name as customer,
        w.is_direct as "isDirect"
      from buying_wants w
      join ${MEASURED_ITEM} i on i.id = w.item_id
      join users u on u.id = w.user_id
      left join sites s on s.id = w.site_id
      left join sales_lines l on l.id = w.sales_line_id
      left join sales_orders so on so.id = l.order_id
      left join customers c on c.id = so.customer_id
      where ${IS_WANTED}
      order by w.needed_on, w.id`,
  )
