import { inArray, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { buyingWants } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { OrderNeeds } from '~~/shared/purchasing/requests'
import { exactIfPlain } from '../../catalogue/measured-items'
import { firstSite } from '../../workshop/builds'
import { IS_WANTED } from './wants'
import { changePurchase } from '../change-purchase'
import { createPurchase } from '../orders'

type GivenLine = Given<OrderNeeds>['lines'][number]
type Line = Omit<GivenLine, 'discount'> & Partial<Pick<GivenLine, 'discount'>>
type Edit = Omit<Given<OrderNeeds>, 'key' | 'lines'> & { readonly lines: readonly Line[] }
interface WrittenOrder {
  readonly id: number
  readonly number: string
  readonly isNew: boolean
}
export interface OrderedNeeds {
  /** `places`: which of the lines that were given went on it. */
  readonly orders: readonly (WrittenOrder & { readonly places: readonly number[] })[]
}

/**
 * Orders what was chosen of the buying list: one order for each supplier and place of delivery, or more lines on a
 * draft that is there.
 *
 * Errors: `invalid-input` beside the field of a line; `not-now` where a line was ordered meanwhile, or the draft was
 *         sent.
 */
export async function orderNeeds(tx: Tx, actor: Actor, edit: Edit): Promise<OrderedNeeds> {
  await requireWanted(tx, edit.lines)
  const orders = []
  const direct = await directOrders(tx, edit.lines)
  const together = groupBy(
    edit.lines.map((line, index) => ({ line, index })),
    ({ line }) => `${line.supplierId} ${line.siteId ?? ''} ${direct.get(line.wantId ?? 0) ?? ''}`,
  )
  for (const entries of together.values()) {
    const written = await onFields(entries, () =>
      orderTogether(
        tx,
        actor,
        edit,
        entries.map(({ line }) => line),
        direct.get(entries[0]!.line.wantId ?? 0) ?? null,
      ),
    )
    orders.push({ ...written, places: entries.map(({ index }) => index) })
  }
  return { orders }
}

/** What was written down is ordered once. */
async function requireWanted(tx: Tx, lines: readonly Line[]): Promise<void> {
  const ids = lines.flatMap(({ wantId }) => wantId ?? [])
  if (ids.length === 0) {
    return
  }
  const [gone] = await rows<{ code: string; number: string | null }>(
    tx,
    sql`
      with locked as (select * from buying_wants where ${inArray(buyingWants.id, ids)} for update)
      select i.code, p.number
      from locked w
      join items i on i.id = w.item_id
      left join purchase_orders p on p.id = w.order_id
      where not ${IS_WANTED}
      limit 1`,
  )
  if (gone) {
    throw new Refusal(
      'not-now',
      `${gone.code} is ${gone.number ? `on ${gone.number}` : 'taken off'} already. Reload the list.`,
    )
  }
}

/** The customers' orders to which suppliers deliver by themselves, by what was written down. */
async function directOrders(tx: Tx, lines: readonly Line[]): Promise<ReadonlyMap<number, number>> {
  const ids = lines.flatMap(({ wantId }) => wantId ?? [])
  const found =
    ids.length === 0
      ? []
      : await rows<{ id: number; orderId: number }>(
          tx,
          sql`
            select w.id, l.order_id as "orderId"
            from buying_wants w
            join sales_lines l on l.id = w.sales_line_id
            where ${inArray(sql`w.id`, ids)} and w.is_direct`,
        )
  return new Map(found.map(({ id, orderId }) => [id, orderId]))
}

async function orderTogether(
  tx: Tx,
  actor: Actor,
  edit: Edit,
  lines: readonly Line[],
  directOrderId: number | null,
): Promise<WrittenOrder> {
  const [{ supplierId, siteId } = { supplierId: 0, siteId: null }] = lines
  const wanted = lines.map(({ itemId, quantity, unit, price, discount, dueOn }) => ({
    itemId,
    quantity,
    unit,
    price,
    discount,
    dueOn,
  }))
  // What goes to a customer by itself has an order of its own: it is delivered elsewhere.
  const draft =
    directOrderId === null
      ? await draftFor(tx, { supplierId, siteId, orderId: edit.orderId, onDrafts: edit.onDrafts })
      : null
  if (!draft) {
    const made = await createPurchase(tx, actor, { supplierId, siteId, directOrderId, note: '', lines: wanted })
    await noteFor(tx, made.id, lines, 0)
    return { ...made, isNew: true }
  }
  const { id, number, version, note, paymentTerms, deliveryTerms, own } = draft
  const head = { version, siteId: draft.siteId, note, paymentTerms, deliveryTerms }
  await changePurchase(tx, actor, id, {
    ...head,
    lines: [
      ...own.map((line) => ({ ...line, quantity: exactIfPlain(line.quantity) })),
      ...wanted.map((line) => ({ ...line, id: null })),
    ],
  })
  await noteFor(tx, id, lines, own.length)
  return { id, number, isNew: false }
}

interface Draft {
  readonly id: number
  readonly number: string
  readonly version: number
  readonly siteId: number | null
  readonly note: string
  readonly paymentTerms: string
  readonly deliveryTerms: string
  readonly own: {
    readonly id: number
    readonly itemId: number
    readonly quantity: string
    readonly unit: string
    readonly price: string
    readonly discount: string
    readonly dueOn: string
  }[]
}

/** The draft that more is written on; null where a new order is wanted. */
async function draftFor(
  tx: Tx,
  on: {
    readonly supplierId: number
    readonly siteId: number | null
    readonly orderId: number | null
    readonly onDrafts: boolean
  },
): Promise<Draft | null> {
  if (on.orderId === null && !on.onDrafts) {
    return null
  }
  const first = await firstSite(tx)
  const [found] = await rows<Draft>(
    tx,
    sql`
      select
        o.id, o.number, o.version, o.site_id as "siteId", o.note, o.payment_terms as "paymentTerms",
        o.delivery_terms as "deliveryTerms",
        (
          select
            json_agg(
              json_build_object(
                'id', l.id, 'itemId', l.item_id, 'quantity', l.entered, 'unit', l.unit, 'price',
                coalesce(l.list_price, l.price)::text, 'discount', coalesce(trim_scale(l.discount_percent)::text, ''),
                'dueOn', l.due_on
              )
              order by l.line
            )
          from purchase_lines l
          where l.order_id = o.id
        ) as own
      from purchase_orders o
      where o.supplier_id = ${on.supplierId}
        and o.direct_order_id is null
        and o.status = 'open'
        and o.sent_on is null
        and (${on.orderId}::int is null or o.id = ${on.orderId})
        and (
          ${on.orderId}::int is not null
            or coalesce(o.site_id, ${first}) = coalesce(${on.siteId}::int, ${first})
        )
      order by o.id desc
      limit 1`,
  )
  if (!found && on.orderId !== null) {
    throw new Refusal('not-now', 'That order is of another supplier, or was sent meanwhile. Reload the page.')
  }
  return found ?? null
}

/** What was written down is ordered, and a line that is for a customer's order keeps that link. */
async function noteFor(tx: Tx, orderId: number, lines: readonly Line[], before: number): Promise<void> {
  for (const [index, { wantId }] of lines.entries()) {
    if (wantId !== null) {
      await rows(
        tx,
        sql`
          with want as (
            update buying_wants
            set status = 'ordered', order_id = ${orderId}
            where id = ${wantId}
            returning sales_line_id
          )
          update purchase_lines
          set sales_line_id = want.sales_line_id
          from want
          where order_id = ${orderId} and line = ${before + index + 1}`,
      )
    }
  }
}

/** A refusal beside a line of one order stands beside that line of the list. */
async function onFields<T>(entries: readonly { readonly index: number }[], act: () => Promise<T>): Promise<T> {
  try {
    return await act()
  } catch (error) {
    if (!(error instanceof Refusal) || !error.fields) {
      throw error
    }
    const fields = Object.fromEntries(
      Object.entries(error.fields).map(([field, detail]) => [
        field.replace(/^lines\.(\d+)\./, (_, line: string) => `lines.${entries[Number(line)]?.index ?? line}.`),
        detail,
      ]),
    )
    throw new Refusal(error.code, error.detail, fields)
  }
}
