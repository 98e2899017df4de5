import { sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { differences, type OrderedAs, type SentLine } from '~~/shared/purchasing/sent'
import type { NamedAmount } from '~~/shared/purchasing/charges'
import type { PurchaseState } from '~~/shared/purchasing/state'
import { loadPostings } from '../../ledger/postings'
import { approvalWanted } from './approve'
import { keptAgainstTerms } from './check-terms'
import { loadInvoiced, loadInvoices, loadUninvoiced } from './invoice-queries'
import { asSent, lettersOf } from './letters'
import { loadReturns } from './return-queries'
import { purchaseState } from './purchase-state'
import { totalOfCharges } from './purchase-total'

export interface PurchaseLineRow {
  id: number
  line: number
  itemId: number
  code: string
  name: string
  supplierCode: string
  entered: string
  unit: string
  price: string
  listPrice: string | null
  discountPercent: string | null
  quantity: string
  received: string
  dueOn: string
  closedShort: boolean
  /** The line that it came instead of, and how much it counts as there; that line was ordered, this was not. */
  replacesLineId: number | null
  replaces: string | null
  replacedQuantity: string | null
  /** The blanket order that it calls off from. */
  blanket: { id: number; number: string } | null
  /** What may come instead: so much of the item one of it stands for. */
  substitutes: { itemId: number; code: string; name: string; per: string }[]
  /** When the supplier confirmed it, and what was asked where they confirmed something else. */
  confirmedOn: string | null
  asked: OrderedAs | null
  /** The customer's order that it is bought for; `price` is what one of the line's unit sells for there. */
  forOrder: { id: number; number: string; customer: string; price: string } | null
  symbol: string
  decimals: number
  stockUnit: string
  finestStep: string
  kind: string
  tracking: string
  groupId: number
  purchaseText: string
  shelfLifeDays: number | null
  /** How much more than was ordered is taken in without a reason, in per cent. */
  overDelivery: string
  value: string
  relations: { unit: string; ofUnit: string; numerator: string; denominator: string }[]
}

/** What a line is bought for: its customer's order, with what one of the line's unit sells for there. */
const FOR_ORDER = sql`
  (
    select
      json_build_object(
        'id', so.id, 'number', so.number, 'customer', c.name, 'price',
        trim_scale(sl.stock_price * l.quantity / nullif(l.entered::numeric, 0))::text
      )
    from sales_lines sl
    join sales_orders so on so.id = sl.order_id
    join customers c on c.id = so.customer_id
    where sl.id = l.sales_line_id
  )`

/** What may come instead of a line's item: so much of it in its stock unit one of the other stands for. */
const SUBSTITUTES = sql`
  coalesce(
    (
      select
        json_agg(
          json_build_object('itemId', j.id, 'code', j.code, 'name', j.name, 'per', trim_scale(round(x.per, 12))::text)
          order by x.rank, j.code
        )
      from (
        select s.substitute_id as id, s.rank, s.numerator / s.denominator as per
        from item_substitutes s
        where s.item_id = i.id
        union all
        select s.item_id, s.rank, s.denominator / s.numerator
        from item_substitutes s
        where s.substitute_id = i.id and s.both_ways
      ) x
      join items j on j.id = x.id and j.status <> 'retired'
    ),
    '[]'
  )`

export async function loadPurchase(id: number) {
  const [order] = await rows<{
    id: number
    number: string
    supplierId: number
    supplier: string
    email: string
    address: string
    orderedOn: string
    currency: string | null
    rate: string
    status: string
    state: PurchaseState
    note: string
    paymentTerms: string
    deliveryTerms: string
    charges: NamedAmount[]
    sentOn: string | null
    sent: SentLine[] | null
    supplierReference: string
    approvedTotal: string | null
    approvedBy: string | null
    version: number
    deliverTo: string | null
    deliverAddress: string | null
    /** The customer's order to which the supplier delivers by themselves. */
    directOrder: { id: number; number: string; customer: string } | null
    /** The site that it is delivered to: the one it names, else the first. */
    siteId: number | null
  }>(
    db,
    sql`
      select
        o.id, o.number, coalesce(c.name, d.name) as "deliverTo",
        case when c.id is null then d.address else c.address end as "deliverAddress",
        case
          when b.id is not null then json_build_object('id', b.id, 'number', b.number, 'customer', c.name)
        end as "directOrder", o.supplier_id as "supplierId",
        s.name as supplier, s.email, s.address, o.ordered_on as "orderedOn", o.currency, o.rate, o.status,
        ${purchaseState(sql`o`)} as state, o.note, o.payment_terms as "paymentTerms",
        o.delivery_terms as "deliveryTerms", o.charges, o.sent_on as "sentOn", o.sent,
        o.supplier_reference as "supplierReference", trim_scale(o.approved_total)::text as "approvedTotal",
        (select name from users where id = o.approved_by) as "approvedBy", o.version,
        coalesce(o.site_id, (select f.id from sites f where not f.retired order by f.id limit 1)) as "siteId"
      from purchase_orders o
      join suppliers s on s.id = o.supplier_id
      left join sites d on d.id = o.site_id
      left join sales_orders b on b.id = o.direct_order_id
      left join customers c on c.id = b.customer_id
      where o.id = ${id}`,
  )
  if (!order) {
    throw new Refusal('not-found', 'There is no such purchase order.')
  }
  const lines = await rows<Omit<PurchaseLineRow, 'value'>>(
    db,
    sql`
      select
        l.id, l.line, l.item_id as "itemId", i.code, i.name, coalesce(t.supplier_code, '') as "supplierCode",
        l.entered, l.unit, l.price, trim_scale(l.list_price)::text as "listPrice",
        trim_scale(l.discount_percent)::text as "discountPercent", l.quantity, l.received, l.due_on as "dueOn",
        l.closed_short as "closedShort", l.confirmed_on as "confirmedOn", l.asked,
        ${FOR_ORDER} as "forOrder", l.replaces_line_id as "replacesLineId",
        (
          select j.code
          from purchase_lines k
          join items j on j.id = k.item_id
          where k.id = l.replaces_line_id
        ) as replaces,
        trim_scale(l.replaced_quantity)::text as "replacedQuantity", ${SUBSTITUTES} as substitutes,
        (
          select json_build_object('id', a.id, 'number', a.number)
          from blanket_lines g
          join blanket_orders a on a.id = g.blanket_id
          where g.id = l.blanket_line_id
        ) as blanket, i.symbol, i.decimals, i.stock_unit as "stockUnit",
        i.finest_step as "finestStep", i.kind, i.purchase_text as "purchaseText", i.tracking,
        i.group_id as "groupId", i.shelf_life_days as "shelfLifeDays",
        coalesce(i.over_delivery, (select over_delivery from suppliers where id = ${order.supplierId}), 0)::text as "overDelivery",
        coalesce(
          (
            select json_agg(
              json_build_object(
                'unit', r.unit, 'ofUnit', r.of_unit, 'numerator', r.numerator::text, 'denominator',
                r.denominator::text
              )
            )
            from item_relations r
            where r.item_id = i.id
          ),
          '[]'
        ) as relations
      from purchase_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      left join supplier_terms t on t.item_id = l.item_id and t.supplier_id = ${order.supplierId}
      where l.order_id = ${id} and l.replaced_quantity is distinct from 0
      order by l.line`,
  )
  const valued = lines.map((line) => ({ ...line, value: lineValue(ratio(line.entered), ratio(line.price)).toString() }))
  const postings = await loadPostings('purchase order', id)
  const total = valued
    .filter((line) => line.replacesLineId === null)
    .reduce((sum, line) => sum + BigInt(line.value), totalOfCharges(order.charges))
  const { sent, ...head } = order
  return {
    ...head,
    /** What the supplier has to be told since it was sent. */
    unsent: sent === null ? [] : differences(sent, asSent(lines)),
    /** The sum above which it is approved before it is sent, where it is above. */
    toApprove: await approvalWanted(db, { ...order, total }),
    letters: await lettersOf(id),
    lines: valued,
    postings,
    kept: await keptAgainstTerms(db, id),
    invoices: await loadInvoices(id),
    uninvoiced: await loadUninvoiced(id),
    invoiced: await loadInvoiced(db, id),
    returns: await loadReturns(id),
    total: total.toString(),
  }
}
