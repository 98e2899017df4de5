import { sql, type SQL } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import type { LedgerDifference } from './difference'

/**
 * A column of a document that keeps a sum of what was recorded under it. `sums`: rows of `id`, `what`, `unit`, `kept`
 * and `worked`.
 */
interface KeptSum {
  readonly table: string
  readonly column: string
  readonly sums: SQL
}

/**
 * What was moved by line of a document and kind of act; what takes an act back is taken off it. What is delivered
 * directly goes through the line below nought: as it comes from the supplier it is counted as received.
 */
const byLine = (documentKind: string): SQL => sql`
  select
    abs(m.document_line_id) as line,
    case when coalesce(r.kind, o.kind) = 'direct delivery' then 'goods receipt' else coalesce(r.kind, o.kind) end as act,
    sum(case when o.reverses_id is null then m.quantity else -m.quantity end) as quantity
  from moves m
  join postings o on o.id = m.posting_id
  left join postings r on r.id = o.reverses_id
  join places f on f.id = m.from_place_id
  join places t on t.id = m.to_place_id
  where o.document_kind = ${documentKind}
    and m.document_line_id is not null
    and (m.document_line_id > 0 or 'supplier' in (f.kind, t.kind))
  group by 1, 2`

/** Lines of documents whose goods move: `act` is the kind of posting that fills the column. */
function lineSum(lines: string, documents: string, reference: string, kept: KeptLine): KeptSum {
  const column = sql.identifier(kept.column)
  return {
    table: lines,
    column: kept.column,
    sums: sql`
      select
        l.id, concat_ws(' · ', o.number, i.code, ${kept.column}::text) as what, u.symbol as unit, l.${column} as kept,
        coalesce(a.quantity, 0) - (${kept.less ?? sql`0`}) as worked
      from ${sql.identifier(lines)} l
      join ${sql.identifier(documents)} o on o.id = l.${sql.identifier(reference)}
      join items i on i.id = l.item_id and i.kind <> 'service'
      join units u on u.code = i.stock_unit
      left join (${byLine(kept.documentKind)}) a on a.line = l.id and a.act = ${kept.act}`,
  }
}

interface KeptLine {
  readonly column: string
  readonly documentKind: string
  readonly act: string
  /** What of a line `l` does not count any more. */
  readonly less?: SQL
}

/** What went into the workshop for a build, or came out of it; taken back, it counts less. */
const WORKED = sql`
  select
    o.document_id as build, m.document_line_id as line, m.item_id,
    case when (t.kind = 'workshop') = (m.basis <> 'back') then 'in' else 'out' end as direction,
    sum(case when m.basis = 'back' then -m.quantity else m.quantity end) as quantity
  from moves m
  join postings o on o.id = m.posting_id
  join places f on f.id = m.from_place_id
  join places t on t.id = m.to_place_id
  where o.document_kind = 'build' and 'workshop' in (f.kind, t.kind)
  group by 1, 2, 3, 4`

const KEPT_SUMS: readonly KeptSum[] = [
  lineSum('purchase_lines', 'purchase_orders', 'order_id', {
    column: 'received',
    documentKind: 'purchase order',
    act: 'goods receipt',
    less: sql`
      coalesce(
        (
          select sum(r.quantity)
          from supplier_returns r
          where r.line_id = l.id and r.expects = 'replacement' and not r.is_reversed
        ),
        0
      ) - coalesce(
        (select sum(s.replaced_quantity) from purchase_lines s where s.replaces_line_id = l.id), 0
      )`,
  }),
  lineSum('sales_lines', 'sales_orders', 'order_id', {
    column: 'shipped',
    documentKind: 'sales order',
    act: 'shipment',
    less: sql`
      -coalesce(
        (
          select sum(k.received)
          from purchase_lines k
          join purchase_orders p on p.id = k.order_id and p.direct_order_id = l.order_id
          where k.sales_line_id = l.id
        ),
        0
      )`,
  }),
  ...(
    [
      ['shipped', 'transfer out'],
      ['received', 'transfer in'],
      ['lost', 'correction'],
    ] as const
  ).map(([column, act]) =>
    lineSum('transfer_lines', 'transfers', 'transfer_id', { column, documentKind: 'transfer', act }),
  ),
  {
    table: 'builds',
    column: 'made',
    sums: sql`
      select
        b.id, concat_ws(' · ', b.number, i.code, 'made') as what, u.symbol as unit, b.made as kept,
        coalesce(w.quantity, 0) as worked
      from builds b
      join items i on i.id = b.item_id
      join units u on u.code = i.stock_unit
      left join (
        select build, item_id, sum(quantity) as quantity
        from (${WORKED}) x
        where direction = 'out'
        group by 1, 2
      ) w on w.build = b.id and w.item_id = b.item_id`,
  },
  {
    table: 'build_lines',
    column: 'used',
    sums: sql`
      select
        l.id, concat_ws(' · ', b.number, i.code, 'used') as what, u.symbol as unit, l.used as kept,
        coalesce(sum(w.quantity), 0) as worked
      from build_lines l
      join builds b on b.id = l.build_id
      join items i on i.id = l.item_id
      join units u on u.code = i.stock_unit
      left join (${WORKED}) w on w.build = l.build_id
        and w.direction = 'in'
        and (w.line = l.id or (w.line is null and w.item_id = l.item_id and w.item_id <> b.item_id))
      group by l.id, b.number, i.code, u.symbol`,
  },
]

/** What documents say was received, shipped, lost, made and used, beside what was moved under them. */
export async function checkDocuments(reader: Reader): Promise<LedgerDifference[]> {
  const differences: LedgerDifference[] = []
  for (const { sums } of KEPT_SUMS) {
    const found = await rows<{ what: string; kept: string; worked: string; unit: string }>(
      reader,
      sql`
        select
          what, unit, trim_scale(kept)::text as kept, trim_scale(worked)::text as worked
        from (${sums}) s
        where kept <> worked
        order by what`,
    )
    differences.push(...found.map((row): LedgerDifference => ({ kind: 'document', ...row })))
  }
  return differences
}

/** Writes what was moved into every sum that differs. */
export async function mendDocuments(writer: Reader): Promise<void> {
  for (const { table, column, sums } of KEPT_SUMS) {
    await rows(
      writer,
      sql`
        update ${sql.identifier(table)} d
        set ${sql.identifier(column)} = s.worked
        from (${sums}) s
        where s.id = d.id and s.kept <> s.worked`,
    )
  }
}
