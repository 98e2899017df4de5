import { sql } from 'drizzle-orm'
import { majorText } from '~~/core/money'
import { db, rows } from '~~/server/database/client'
import type { ExportQuery } from '~~/shared/books/requests'
import { notInvoiced } from './not-invoiced'
import { ACCOUNTS, stockValue } from './value'

type Table = [columns: readonly string[], rows: readonly Record<string, unknown>[]]

const major = (minor: bigint | string): string => majorText(String(minor))
const total = <T>(entries: readonly T[], of: (entry: T) => string): string =>
  major(entries.reduce((sum, entry) => sum + BigInt(of(entry)), 0n))

/** The debits and credits of the postings of some days, line by line. */
export async function journalTable({ from, until }: ExportQuery): Promise<Table> {
  const lines = await rows<{
    posting: number
    day: string
    label: string
    kind: string
    site: string | null
    item: string | null
    amount: string
  }>(
    db,
    sql`
      select
        o.id as posting, j.effective_on as day, o.label, j.place_kind as kind,
        (select code from sites where id = j.site_id) as site, i.code as item, j.amount::text as amount
      from journal j
      join postings o on o.id = j.posting_id
      left join items i on i.id = j.item_id
      where j.amount <> 0
        and (${from}::date is null or o.effective_on >= ${from})
        and (${until}::date is null or o.effective_on <= ${until})
      order by o.id, j.move_id, j.amount desc`,
  )
  const debit = (amount: string): string => (amount.startsWith('-') ? '0' : amount)
  const credit = (amount: string): string => (amount.startsWith('-') ? amount.slice(1) : '0')
  return [
    ['posting', 'effective_on', 'label', 'account', 'site', 'item', 'debit', 'credit'],
    [
      ...lines.map(({ posting, day, label, kind, site, item, amount }) => ({
        posting,
        effective_on: day,
        label,
        account: ACCOUNTS[kind],
        site,
        item,
        debit: major(debit(amount)),
        credit: major(credit(amount)),
      })),
      {
        label: `Total ${span(from, until)}`,
        debit: total(lines, (line) => debit(line.amount)),
        credit: total(lines, (line) => credit(line.amount)),
      },
    ],
  ]
}

function span(from: string | null, until: string | null): string {
  if (from !== null && until !== null) {
    return `${from} to ${until}`
  }
  if (from !== null) {
    return `from ${from} on`
  }
  return until === null ? 'of all days' : `until ${until}`
}

/** What stock is worth on the evening of a day, added up as on the screen. */
export async function stockValueTable({ by, asOf }: ExportQuery): Promise<Table> {
  const found = await stockValue(by, asOf)
  const day = asOf ?? 'now'
  return [
    ['as_of', 'group', 'site', 'item', 'name', 'lot', 'quantity', 'unit', 'value', 'of_it_not_invoiced'],
    [
      ...found.map((row) => ({
        as_of: day,
        group: row.group,
        site: row.site,
        item: row.code,
        name: row.name,
        lot: row.lot,
        quantity: row.quantity,
        unit: row.symbol,
        value: major(row.value),
        of_it_not_invoiced: major(row.uninvoiced),
      })),
      {
        as_of: day,
        name: 'Total',
        value: total(found, (row) => row.value),
        of_it_not_invoiced: total(found, (row) => row.uninvoiced),
      },
    ],
  ]
}

/** What was received and not invoiced on the evening of a day, receipt line by receipt line. */
export async function notInvoicedTable({ asOf }: ExportQuery): Promise<Table> {
  const found = await notInvoiced(asOf)
  const day = asOf ?? 'now'
  const sums = {
    amount: total(found, (row) => row.amount),
    in_stock_amount: total(found, (row) => row.inStockAmount),
    used_amount: total(found, (row) => row.usedAmount),
  }
  return [
    [
      ...['as_of', 'received_on', 'order', 'supplier', 'item', 'name', 'site', 'lot', 'quantity', 'unit', 'amount'],
      ...['in_stock', 'in_stock_amount', 'used', 'used_amount'],
    ],
    [
      ...found.map((row) => ({
        as_of: day,
        received_on: row.day,
        order: row.order,
        supplier: row.supplier,
        item: row.code,
        name: row.name,
        site: row.siteName,
        lot: row.lot,
        quantity: row.quantity,
        unit: row.symbol,
        amount: major(row.amount),
        in_stock: row.inStock,
        in_stock_amount: major(row.inStockAmount),
        used: row.used,
        used_amount: major(row.usedAmount),
      })),
      { as_of: day, name: 'Total', ...sums },
    ],
  ]
}
