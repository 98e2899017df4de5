import { sql } from 'drizzle-orm'
import { proposeOffer } from '~~/core/buying'
import { toDay } from '~~/core/calendar/days'
import { ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { Actor } from '~~/server/utils/route'
import type { BuyingList, BuyingSupplier, NeedRow, OfferRow } from '~~/shared/purchasing/buying'
import { loadMeasuredItems } from '../../catalogue/measured-items'
import { buyingList } from '../../planning/buying-list'
import { readLowStock } from '../../stock/low-stock'
import { offersOn, type OffersOf } from './offers'
import { openWants, type Want } from './wants'

/** What wants buying, before it is known who sells it. */
type Need = Omit<NeedRow, 'offers' | 'supplierId'> & { readonly supplierId: number | null }

/**
 * Everything that wants buying: what the working plan proposes, what runs low besides, and what people wrote down; each
 * with what its suppliers ask. What is ordered meanwhile is taken off.
 */
export async function buyingNeeds(actor: Actor): Promise<BuyingList> {
  const { planId, orders } = await buyingList()
  const planned = orders.map((order): Need => ({
    ...order,
    id: `planned ${order.ref}`,
    kind: 'planned',
    neededOn: order.dueOn,
    orderBy: order.releaseOn,
    why: 'the plan',
    wantId: null,
    salesOrderId: null,
  }))
  const known = new Set(planned.map(({ itemId, siteId }) => `${itemId} ${siteId}`))
  const low = (await readLowStock(actor)).lines
    .filter((line) => line.kind === 'buy' && !known.has(`${line.itemId} ${line.siteId}`))
    .map((line): Need => ({
      ...line,
      id: `low ${line.itemId} ${line.siteId ?? ''}`,
      kind: 'low stock',
      neededOn: line.lowOn,
      why: 'runs low',
      supplierId: line.supplierId ?? null,
      wantId: null,
      salesOrderId: null,
    }))
  const noted = (await openWants(db)).map((want) => asNeed(want, actor.today))
  const needs = await atTheirSite([...planned, ...low, ...noted])
  const items = await loadMeasuredItems(db, [...new Set(needs.map(({ itemId }) => itemId))])
  const offersOf: OffersOf = await offersOn(db, [...items.keys()], actor.today)
  const offered = needs.map((need) =>
    withOffers(need, offersOf({ item: items.get(need.itemId)!, quantity: ratio(need.quantity) })),
  )
  return {
    planId,
    needs: offered.sort((first, second) => toDay(first.orderBy) - toDay(second.orderBy)),
    suppliers: await suppliersOf(offered, actor.today),
  }
}

/** What names no site is wanted at the first. */
async function atTheirSite(needs: readonly Need[]): Promise<Need[]> {
  const [first] = await rows<{ siteId: number; site: string }>(
    db,
    sql`select id as "siteId", name as site from sites where not retired order by id limit 1`,
  )
  return needs.map((need) => (need.siteId === null ? { ...need, ...first } : need))
}

const asNeed = (want: Want, today: string): Need => ({
  id: `noted ${want.id}`,
  kind: want.salesOrderId === null ? 'noted' : 'for an order',
  itemId: want.itemId,
  code: want.code,
  name: want.name,
  symbol: want.symbol,
  quantity: want.quantity,
  neededOn: want.neededOn,
  orderBy: today,
  lateBy: 0,
  siteId: want.siteId,
  site: want.site,
  why: [
    want.salesOrder && `${want.salesOrder} ${want.customer}`,
    want.isDirect && 'delivered directly',
    want.note,
    want.salesOrder ? '' : want.who,
  ]
    .filter(Boolean)
    .join(', '),
  wantId: want.id,
  salesOrderId: want.salesOrderId,
  supplierId: null,
})

/** The supplier of the plan stays proposed where it sells the item; else the one that suits best. */
function withOffers(need: Need, offers: readonly OfferRow[]): NeedRow {
  const planned = offers.find(({ supplierId }) => supplierId === need.supplierId)
  const comparable = offers.map((offer) => ({
    ...offer,
    cost: ratio(offer.total ?? String(Number.MAX_SAFE_INTEGER)),
  }))
  const { supplierId = null } = planned ?? proposeOffer(comparable, need.neededOn) ?? {}
  const { id, kind, itemId, code, name, symbol, quantity, neededOn, orderBy, lateBy, siteId, site, why } = need
  const { wantId, salesOrderId } = need
  const row = { id, kind, itemId, code, name, symbol, quantity, neededOn, orderBy, lateBy, siteId, site, why }
  return { ...row, wantId, salesOrderId, supplierId, offers }
}

/** The suppliers that sell any of it, with what their orders have to be worth, and their drafts. */
const suppliersOf = (needs: readonly NeedRow[], today: string): Promise<BuyingSupplier[]> =>
  rows<BuyingSupplier>(
    db,
    sql`
      select
        s.id, s.name, c.code as currency, trim_scale(s.minimum_order)::text as "minimumOrder",
        trim_scale(s.free_freight)::text as "freeFreight",
        case
          when c.id is null then '1'
          else (
            select r.rate::text
            from exchange_rates r
            where r.currency_id = c.id and r.from_on <= ${today}
            order by r.from_on desc
            limit 1
          )
        end as rate,
        coalesce(
          (
            select
              json_agg(
                json_build_object(
                  'id', o.id, 'number', o.number, 'version', o.version, 'siteId',
                  coalesce(o.site_id, (select f.id from sites f where not f.retired order by f.id limit 1)), 'total',
                  (
                    select trim_scale(sum(l.entered::numeric * l.price))::text
                    from purchase_lines l
                    where l.order_id = o.id and l.entered ~ '^[0-9.]+$'
                  )
                )
                order by o.id
              )
            from purchase_orders o
            where o.supplier_id = s.id
              and o.status = 'open'
              and o.sent_on is null
              and o.direct_order_id is null
          ),
          '[]'
        ) as drafts
      from suppliers s
      left join currencies c on c.id = s.currency_id
      where ${anyOf(sql`s.id`, [...new Set(needs.flatMap(({ offers }) => offers.map(({ supplierId }) => supplierId)))])}
      order by s.name`,
  )
