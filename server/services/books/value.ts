import { sql, type SQL } from 'drizzle-orm'
import { accountOf, type AccountClass } from '~~/core/costing'
import { shareAmount, shareOf } from '~~/core/sharing'
import { groupBy } from '~~/core/group-by'
import { ratio, toText, ZERO, type Ratio } from '~~/core/units/exact'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import type { NotInvoicedRow } from '~~/shared/books/answers'
import { notInvoiced } from './not-invoiced'

export const ACCOUNTS: Readonly<Record<string, AccountClass>> = {
  ...accountOf,
  variance: 'variance',
  work: 'work absorbed',
  payable: 'accounts payable',
}

/** Amounts by kind of place as amounts by account class, those of one class added up. */
export function accountNames(
  amounts: readonly { readonly account: string; readonly amount: string }[],
): { account: AccountClass; amount: string }[] {
  return [...groupBy(amounts, (entry) => ACCOUNTS[entry.account]!)]
    .map(([account, own]) => ({
      account,
      amount: own.reduce((sum, entry) => sum + BigInt(entry.amount), 0n).toString(),
    }))
    .filter((entry) => entry.amount !== '0')
}

export interface ValueRow {
  id: string
  itemId: number | null
  code: string
  name: string
  group: string
  site: string
  lot: string
  quantity: string | null
  symbol: string
  decimals: number
  value: string
  uninvoiced: string
}

const STOCK = sql`j.place_kind in ('bin', 'transit')`
const until = (asOf: string | null): SQL => (asOf === null ? sql`true` : sql`j.effective_on <= ${asOf}`)

/**
 * What stock is worth on the evening of a day, by item, site, group or lot: the sum of the journal's stock lines until
 * then, so that both always agree.
 *
 * Units:  minor units; quantities in the stock unit, null where several items are added up.
 * Shape:  `uninvoiced` is what of it was received and not invoiced by then and lies there still, at what the stock is
 *         worth: never more than `value`.
 *         Cost is kept by item and site, so the lots of one share its value by quantity, the last taking what rounding
 *         leaves.
 */
export async function stockValue(
  by: 'item' | 'site' | 'group' | 'lot' = 'item',
  asOf: string | null = null,
): Promise<ValueRow[]> {
  const values = await rows<{ itemId: number; site: number; value: string }>(
    db,
    sql`
      select
        j.item_id as "itemId", j.site_id as site,
        coalesce(sum(j.amount) filter (where ${STOCK}), 0)::text as value
      from journal j
      where ${STOCK} and ${until(asOf)}
      group by 1, 2`,
  )
  const waiting = groupBy(await notInvoiced(asOf), (row) => `${row.itemId} ${row.siteId}`)
  const quantities = groupBy(await quantitiesOn(asOf), (q) => `${q.itemId} ${q.site}`)
  const names = new Map(
    (
      await rows<{ id: number; code: string; name: string; group: string; symbol: string; decimals: number }>(
        db,
        sql`
          select i.id, i.code, i.name, g.name as "group", i.symbol, i.decimals
          from ${MEASURED_ITEM} i
          join item_groups g on g.id = i.group_id`,
      )
    ).map((item) => [item.id, item]),
  )
  const sites = new Map(
    (await rows<{ id: number; name: string }>(db, sql`select id, name from sites`)).map((site) => [site.id, site.name]),
  )
  const siteName = (id: number): string => (id === 0 ? 'On the way' : (sites.get(id) ?? ''))
  const detailed = values
    .map((row) => {
      const key = `${row.itemId} ${row.site}`
      const lots = quantities.get(key) ?? []
      const open = waiting.get(key) ?? []
      return {
        ...row,
        item: names.get(row.itemId)!,
        siteName: siteName(row.site),
        lots,
        open,
        uninvoiced: uninvoicedOf(
          BigInt(row.value),
          sumOf(lots, (lot) => lot.quantity),
          open,
        ),
      }
    })
    .filter((row) => row.value !== '0' || row.lots.length > 0)
  if (by === 'lot') {
    return detailed
      .flatMap((row) => {
        const lots = row.lots.length > 0 ? row.lots : [{ lot: '', quantity: '0' }]
        const weights = lots.map((lot) => ratio(lot.quantity))
        const shares = weights.some((w) => w.compare(ZERO) > 0)
          ? shareAmount(BigInt(row.value), weights)
          : lots.map((_, index) => (index === 0 ? BigInt(row.value) : 0n))
        return lots.map((lot, index): ValueRow => ({
          id: `${row.itemId} ${row.site} ${lot.lot}`,
          itemId: row.itemId,
          code: row.item.code,
          name: row.item.name,
          symbol: row.item.symbol,
          decimals: row.item.decimals,
          group: row.item.group,
          site: row.siteName,
          lot: lot.lot,
          quantity: lot.quantity,
          value: shares[index]!.toString(),
          uninvoiced: uninvoicedOf(
            shares[index]!,
            ratio(lot.quantity),
            row.open.filter((receipt) => receipt.lot === lot.lot),
          ),
        }))
      })
      .sort(byName)
  }
  const keyOf = {
    item: (row: (typeof detailed)[number]) => row.item.code,
    site: (row: (typeof detailed)[number]) => row.siteName,
    group: (row: (typeof detailed)[number]) => row.item.group,
  }[by]
  return [...groupBy(detailed, keyOf)]
    .map(([key, own]): ValueRow => {
      const [first] = own
      const sum = (field: 'value' | 'uninvoiced'): string =>
        own.reduce((total, row) => total + BigInt(row[field]), 0n).toString()
      const quantity =
        by === 'item'
          ? toText(
              sumOf(
                own.flatMap((row) => row.lots),
                (lot) => lot.quantity,
              ),
            )
          : null
      return {
        id: key,
        itemId: by === 'item' ? first!.itemId : null,
        code: by === 'item' ? first!.item.code : '',
        name: by === 'item' ? first!.item.name : key,
        group: by === 'site' ? '' : first!.item.group,
        site: by === 'site' ? key : '',
        lot: '',
        quantity,
        symbol: by === 'item' ? first!.item.symbol : '',
        decimals: first!.item.decimals,
        value: sum('value'),
        uninvoiced: sum('uninvoiced'),
      }
    })
    .sort(byName)
}

const sumOf = <T>(entries: readonly T[], of: (entry: T) => string): Ratio =>
  entries.reduce((sum, entry) => sum.add(ratio(of(entry))), ZERO)

/** What of a value is of goods that lie there and are not invoiced: their share of the quantity. */
const uninvoicedOf = (value: bigint, there: Ratio, open: readonly NotInvoicedRow[]): string =>
  shareOf(
    value,
    sumOf(open, (receipt) => receipt.inStock),
    there,
  ).toString()

const byName = (a: ValueRow, b: ValueRow): number =>
  [a.group, a.site, a.code, a.name, a.lot].join('|') < [b.group, b.site, b.code, b.name, b.lot].join('|') ? -1 : 1

/** What lay at each site by item and lot on the evening of a day: what lies there now, less what has moved since. */
async function quantitiesOn(
  asOf: string | null,
): Promise<{ itemId: number; site: number; lot: string; quantity: string }[]> {
  const since =
    asOf === null
      ? sql``
      : sql`
        union all
        select m.item_id, coalesce(p.site_id, 0), m.lot_id, -m.quantity
        from moves m
        join places p on p.id = m.to_place_id and p.kind in ('bin', 'transit')
        where m.effective_on > ${asOf}
        union all
        select m.item_id, coalesce(p.site_id, 0), m.lot_id, m.quantity
        from moves m
        join places p on p.id = m.from_place_id and p.kind in ('bin', 'transit')
        where m.effective_on > ${asOf}`
  return rows(
    db,
    sql`
      select
        x.item_id as "itemId", x.site, coalesce(l.number, '') as lot,
        trim_scale(sum(x.quantity))::text as quantity
      from (
        select b.item_id, coalesce(p.site_id, 0) as site, b.lot_id, b.on_hand as quantity
        from balances b
        join places p on p.id = b.place_id
        where b.on_hand > 0 ${since}
      ) x
      left join lots l on l.id = x.lot_id
      group by 1, 2, 3
      having sum(x.quantity) <> 0
      order by 1, 2, 3`,
  )
}

export interface JournalRow {
  postingId: number
  day: string
  label: string
  who: string
  account: AccountClass
  amount: string
}

/** The value journal: each act's debits (positive) and credits by account class; the lines of an act sum to nothing. */
export async function journal(
  limit: number,
  query: { before?: number; from?: string | null; until?: string | null } = {},
): Promise<JournalRow[]> {
  const days = sql`
    (${query.from ?? null}::date is null or o.effective_on >= ${query.from ?? null})
      and (${query.until ?? null}::date is null or o.effective_on <= ${query.until ?? null})`
  const found = await rows<Omit<JournalRow, 'account'> & { kind: string }>(
    db,
    sql`
      select
        j.posting_id as "postingId", o.effective_on as day, o.label, u.name as who, j.place_kind as kind,
        sum(j.amount)::text as amount
      from journal j
      join postings o on o.id = j.posting_id
      join users u on u.id = o.user_id
      where j.posting_id in (
        select id
        from postings o
        where id < ${query.before ?? 2_147_483_647} and ${days}
        order by id desc
        limit ${limit}
      )
      group by 1, 2, 3, 4, 5
      having sum(j.amount) <> 0
      order by 1 desc, sum(j.amount) desc`,
  )
  return found.map(({ kind, ...row }) => ({ ...row, account: ACCOUNTS[kind]! }))
}

export interface AccountRow {
  account: AccountClass
  amount: string
}

/** What each account class holds on the evening of a day; they sum to nothing. */
export async function accounts(asOf: string | null = null): Promise<AccountRow[]> {
  return accountNames(
    await rows<{ account: string; amount: string }>(
      db,
      sql`
        select j.place_kind as account, sum(j.amount)::text as amount
        from journal j
        where ${until(asOf)}
        group by 1
        order by 1`,
    ),
  )
}
