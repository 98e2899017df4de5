import { sql } from 'drizzle-orm'
import type * as z from 'zod'
import { ratio, toDecimal } from '~~/core/units/exact'
import { db, rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { shopOrders } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewShopOrder, ShopOrderSeen, ShopProduct } from '~~/shared/demand/requests'
import { loadMeasuredItems } from '../catalogue/measured-items'
import { createOrder } from './orders'
import { nextNumber } from '../../documents'

/**
 * What the shop sells: its own codes, which are other codes of items (“web shop” is whose they are), and whatever else
 * has a price.
 */
export const listProducts = () =>
  rows<ShopProduct>(
    db,
    sql`
      select coalesce(c.code, i.code) as code, i.name, trim_scale(i.price)::text as price, true as known
      from items i
      left join lateral (
        select code
        from item_codes c
        where c.item_id = i.id and lower(c.whose) = 'web shop'
        order by c.id
        limit 1
      ) c on true
      where i.status = 'active' and i.price > 0 and i.kind = 'stocked'
      order by i.name
      limit 500`,
  )

/** A buyer leaves an order in the shop. Nothing happens in Tsumiki until it is fetched. */
export async function placeInShop(
  tx: Tx,
  actor: Actor,
  order: z.output<typeof NewShopOrder>,
): Promise<{ number: string }> {
  const number = await nextNumber(tx, 'WEB')
  await tx.insert(shopOrders).values({
    number,
    placedOn: actor.today,
    buyer: order.buyer,
    email: order.email,
    note: order.note,
    lines: order.lines,
  })
  return { number }
}

interface Stored {
  number: string
  placedOn: string
  buyer: string
  email: string
  note: string
  lines: readonly { code: string; quantity: number; price: string }[]
  takenId: number | null
  takenNumber: string | null
}

/** The shop's orders, those that were not fetched yet first, each with what stands against fetching it. */
export async function lookIntoShop(): Promise<ShopOrderSeen[]> {
  const orders = await rows<Stored>(
    db,
    sql`
      select
        s.number, s.placed_on as "placedOn", s.buyer, s.email, s.note, s.lines, o.id as "takenId",
        o.number as "takenNumber"
      from shop_orders s
      left join sales_orders o on o.outside_ref = s.number
      order by (o.id is not null), s.id desc
      limit 200`,
  )
  const items = await itemsByCode(orders.flatMap((order) => order.lines.map((line) => line.code)))
  return orders.map(({ takenId, takenNumber, ...order }) => {
    const unknown = order.lines.filter((line) => !items.has(line.code.toLowerCase()))
    return {
      ...order,
      total: toDecimal(
        order.lines.reduce((sum, line) => sum.add(ratio(line.price).mul(ratio(line.quantity))), ratio('0')),
        2,
      ),
      lines: order.lines.map((line) => ({ ...line, item: items.get(line.code.toLowerCase())?.code ?? null })),
      taken: takenId === null ? null : { id: takenId, number: takenNumber! },
      fault:
        unknown.length === 0
          ? null
          : `${unknown.map((line) => line.code).join(', ')}: no item has this code. Add it to the item’s other codes, then fetch again.`,
    }
  })
}

const itemsByCode = async (codes: readonly string[]): Promise<Map<string, { id: number; code: string }>> =>
  codes.length === 0
    ? new Map()
    : new Map(
        (
          await rows<{ asked: string; id: number; code: string }>(
            db,
            sql`
              select distinct on (asked) asked, id, code
              from (
                select lower(i.code) as asked, i.id, i.code, 0 as rank
                from items i
                union all
                select lower(c.code), i.id, i.code, 1
                from item_codes c
                join items i on i.id = c.item_id
              ) x
              where ${anyOf(sql`asked`, [...new Set(codes.map((code) => code.toLowerCase()))])}
              order by asked, rank, id`,
          )
        ).map((row) => [row.asked, row]),
      )

/**
 * Makes sales orders of the shop's; an order is fetched once. The customer is whoever has the buyer's address, else the
 * web shop itself.
 */
export async function fetchFromShop(
  tx: Tx,
  actor: Actor,
  numbers: readonly string[],
): Promise<{ orders: { id: number; number: string }[] }> {
  const seen = (await lookIntoShop()).filter((order) => numbers.includes(order.number))
  const wrong = seen.find((order) => order.fault !== null || order.taken !== null)
  if (wrong) {
    throw new Refusal(
      'invalid-input',
      wrong.taken
        ? `${wrong.number} was fetched already: it is ${wrong.taken.number}.`
        : `${wrong.number}: ${wrong.fault}`,
    )
  }
  if (seen.length === 0) {
    throw new Refusal('not-now', 'There is nothing to fetch.')
  }
  const items = await itemsByCode(seen.flatMap((order) => order.lines.map((line) => line.code)))
  const measuredItems = await loadMeasuredItems(
    tx,
    [...items.values()].map((item) => item.id),
  )
  const orders = []
  for (const order of seen) {
    const [customer] = await rows<{ id: number }>(
      tx,
      sql`
        select id
        from customers
        where not retired
          and (lower(email) = lower(${order.email}) or id = (select web_customer_id from company))
        order by coalesce(id = (select web_customer_id from company), false)
        limit 1`,
    )
    if (!customer) {
      throw new Refusal('not-now', 'No customer stands for the web shop. Choose one in the company’s settings.')
    }
    orders.push(
      await createOrder(tx, actor, {
        customerId: customer.id,
        orderedOn: order.placedOn,
        dueOn: actor.today,
        note: `${order.buyer}, ${order.email}${order.note ? ` · ${order.note}` : ''}`,
        outsideRef: order.number,
        agreed: true,
        lines: order.lines.map((line) => {
          const item = items.get(line.code.toLowerCase())!
          return {
            id: null,
            itemId: item.id,
            quantity: ratio(line.quantity),
            unit: measuredItems.get(item.id)!.sellingUnit,
            price: line.price,
          }
        }),
      }),
    )
  }
  return { orders }
}
