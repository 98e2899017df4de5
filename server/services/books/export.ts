import { majorOf } from '~~/server/database/sql'
import { stringify } from 'csv-stringify/sync'
import { sql, type SQL } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { ExportQuery, type ExportName } from '~~/shared/books/requests'
import { journalTable, notInvoicedTable, stockValueTable } from './export-books'
import { workingPlanId } from '../planning/plans'

/** What the books show is exported as it is shown: of those days, added up so, with the total. */
const BOOKS = { journal: journalTable, 'stock-value': stockValueTable, 'not-invoiced': notInvoicedTable }

const TABLES: Readonly<Record<Exclude<ExportName, keyof typeof BOOKS>, (planId: number | null) => SQL>> = {
  items: () =>
    sql`
      select
        i.code, i.name, g.code as "group", i.status, i.source, i.tracking, i.stock_unit, i.buying_unit,
        i.selling_unit, i.finest_step, i.lead_days, i.safety_stock, i.shelf_life_days, i.price, i.note
      from items i
      join item_groups g on g.id = i.group_id
      order by i.code`,
  balances: () =>
    sql`
      select
        i.code as item, i.name, p.code as bin, l.number as lot, c.label as piece, l.expires_on, b.status,
        b.on_hand, b.allocated, i.stock_unit as unit
      from balances b
      join items i on i.id = b.item_id
      join places p on p.id = b.place_id
      left join lots l on l.id = b.lot_id
      left join pieces c on c.id = b.piece_id
      where b.on_hand > 0
      order by i.code, p.code, l.number`,
  moves: () => sql`
    select
      m.id, o.effective_on, o.recorded_at, u.name as who, o.kind, o.label, o.reason, i.code as item,
      l.number as lot, c.label as piece, m.quantity, i.stock_unit as unit, f.name as "from", t.name as "to",
      m.entered_quantity, m.entered_unit, m.residue_numerator, m.residue_denominator,
      ${majorOf(sql`m.value`)} as value
    from moves m
    join postings o on o.id = m.posting_id
    join users u on u.id = o.user_id
    join items i on i.id = m.item_id
    join places f on f.id = m.from_place_id
    join places t on t.id = m.to_place_id
    left join lots l on l.id = m.lot_id
    left join pieces c on c.id = m.piece_id
    order by m.id`,
  lots: () => sql`
    select
      i.code as item, i.name, l.number as lot, l.supplier_number, l.made_on, l.received_on, l.expires_on,
      l.best_before_on, c.label as piece, c.original, coalesce(sum(b.on_hand), 0) as remaining,
      i.stock_unit as unit, l.traits || coalesce(c.traits, '{}') as traits
    from lots l
    join items i on i.id = l.item_id
    left join pieces c on c.lot_id = l.id
    left join balances b on b.lot_id = l.id and b.piece_id is not distinct from c.id
    group by l.id, c.id, i.id
    order by i.code, l.number, c.label`,
  'sales-orders': () =>
    sql`
      select
        o.number, c.code as customer, o.ordered_on, o.due_on, o.status, i.code as item, l.entered as quantity,
        l.unit, l.price, l.shipped, i.stock_unit
      from sales_lines l
      join sales_orders o on o.id = l.order_id
      join customers c on c.id = o.customer_id
      join items i on i.id = l.item_id
      order by o.number, l.line`,
  'purchase-orders': () =>
    sql`
      select
        o.number, s.code as supplier, o.ordered_on, l.due_on, o.status, i.code as item, l.entered as quantity,
        l.unit, l.price, l.received, i.stock_unit, l.closed_short
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      join suppliers s on s.id = o.supplier_id
      join items i on i.id = l.item_id
      order by o.number, l.line`,
  'low-stock': () => sql`
    select
      l.day, x.code as item, x.name, x.site, x."onHand" as on_hand, x."lowOn" as low_on, x."left" as left_then,
      x.keep, x.kind as act, x.quantity, x.symbol as unit, x."from" as from_whom, x."orderBy" as order_by,
      x."lateBy" as late_by
    from
      (select day, lines from low_stock_days order by day desc limit 1) l,
      jsonb_to_recordset(l.lines) as x(
        code text, name text, site text, "onHand" text, "lowOn" text, "left" text, keep text, kind text,
        quantity text, symbol text, "from" text, "orderBy" text, "lateBy" int
      )`,
  'planned-orders': (planId) =>
    sql`
      select
        o.kind, i.code as item, i.name, o.quantity, i.stock_unit as unit, o.release_on, o.due_on, o.late_by,
        o.promised_on, s.code as supplier, f.code as from_site, t.code as site, o.state
      from planned_orders o
      join items i on i.id = o.item_id
      left join suppliers s on s.id = o.supplier_id
      left join sites f on f.id = o.from_site_id
      left join sites t on t.id = o.site_id
      where o.plan_id = ${planId}
      order by o.release_on, i.code`,
}

/**
 * A table as CSV with a header line (RFC 4180, UTF-8). A cell that a spreadsheet would take for a formula is given an
 * apostrophe.
 */
export async function exportTable(name: ExportName, query: ExportQuery = ExportQuery.parse({})): Promise<string> {
  if (isOfBooks(name)) {
    return asCsv(...(await BOOKS[name](query)))
  }
  const found = await db.execute<Record<string, unknown>>(TABLES[name](await workingPlanId()))
  // The header line is there also where nothing is.
  return asCsv(
    found.fields.map((field) => field.name),
    found.rows,
  )
}

const isOfBooks = (name: ExportName): name is keyof typeof BOOKS => name in BOOKS

const asCsv = (columns: readonly string[], rows: readonly Record<string, unknown>[]): string =>
  stringify([...rows], {
    header: true,
    columns: [...columns],
    escape_formulas: true,
    bom: true,
    cast: { date: (value) => value.toISOString(), boolean: (value) => (value ? 'yes' : 'no') },
  })
