import { sql, type SQL } from 'drizzle-orm'
import { db, rows, type Reader } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import type { InvoiceRow } from '../../../shared/purchasing/answers'
import { isOfLine, RECEIPTS } from './receipts'

/** The invoices and credit notes about goods of an order, newest first, with what they cost more than the order said. */
export const loadInvoices = (orderId: number): Promise<InvoiceRow[]> =>
  rows<InvoiceRow>(
    db,
    sql`
      select
        v.id, v.kind, v.number, s.name as supplier, v.invoiced_on as "invoicedOn", sum(l.amount)::text as amount,
        sum(l.delta)::text as delta, v.cancelled_id is not null as cancelled,
        coalesce(
          (
            select json_agg(json_build_object('name', c.name, 'by', c.spread, 'amount', c.amount::text) order by c.id)
            from invoice_charges c
            where c.invoice_id = v.id
          ),
          '[]'
        ) as charges
      from supplier_invoices v
      join suppliers s on s.id = v.supplier_id
      join invoice_lines l on l.invoice_id = v.id
      where v.kind in ('invoice', 'credit note') and v.id in (
        select x.invoice_id
        from invoice_lines x
        join purchase_lines p on p.id = x.purchase_line_id
        where p.order_id = ${orderId}
      )
      group by v.id, s.id
      order by v.id desc`,
  )

/** What of each line of an order is invoiced, less what was given back; charges left aside. Minor units. */
export const loadInvoiced = (reader: Reader, orderId: number): Promise<{ lineId: number; amount: string }[]> =>
  rows<{ lineId: number; amount: string }>(
    reader,
    sql`
      select l.id as "lineId", sum(x.amount)::text as amount
      from purchase_lines l
      join invoice_lines x on x.purchase_line_id = l.id and x.charge_id is null
      join supplier_invoices v on v.id = x.invoice_id and v.cancelled_id is null
      where l.order_id = ${orderId}
      group by l.id
      having sum(x.amount) > 0`,
  )

interface Uninvoiced {
  readonly lineId: number
  readonly quantity: string
  /** Minor units of the company’s currency. */
  readonly amount: string
}

/** What of each line of an order is received and not invoiced, with what the order says it costs. */
export const loadUninvoiced = (orderId: number): Promise<Uninvoiced[]> => uninvoicedWhere(sql`l.order_id = ${orderId}`)

/** The same of all orders of a supplier. */
export const uninvoicedOfSupplier = (supplierId: number): Promise<Uninvoiced[]> =>
  uninvoicedWhere(sql`l.order_id in (select id from purchase_orders where supplier_id = ${supplierId})`)

const uninvoicedWhere = (lines: SQL): Promise<Uninvoiced[]> =>
  rows<Uninvoiced>(
    db,
    sql`
      select
        l.id as "lineId", trim_scale(sum(m.quantity - x.invoiced))::text as quantity,
        sum(round((m.value + m.variance) * (m.quantity - x.invoiced) / m.quantity))::text as amount
      from purchase_lines l
      join moves m on ${isOfLine(sql`l.id`)} and m.basis = 'stated'
      join places f on f.id = m.from_place_id and f.kind = 'supplier'
      join postings o on o.id = m.posting_id
        and o.kind in ${RECEIPTS}
        and ${notReversed('o.id')}, lateral (
          select coalesce(sum(i.quantity), 0) as invoiced
          from invoice_lines i
          join supplier_invoices v on v.id = i.invoice_id
          where i.move_id = m.id and v.cancelled_id is null
        ) x
      where ${lines}
      group by l.id
      having sum(m.quantity - x.invoiced) > 0`,
  )
