import { sql, type SQL } from 'drizzle-orm'
import type { z } from 'zod'
import { db, rows } from '~~/server/database/client'
import type { Paged } from '~~/shared/primitives'
import type { StockQuery } from '~~/shared/stock'

export interface BalanceRow { id: number, itemId: number, code: string, name: string, binId: number, bin: string, lot: string | null, expiresOn: string | null, status: string, onHand: string, allocated: string, unit: string, symbol: string, decimals: number }
export interface MoveRow { id: number, postingId: number, kind: string, label: string, reason: string, effectiveOn: string, recordedAt: string, who: string, itemId: number, code: string, name: string, lot: string | null, quantity: string, symbol: string, decimals: number, from: string, to: string, incoming: boolean, outgoing: boolean, entered: string, enteredUnit: string, residueNumerator: string, residueDenominator: string, value: string, reversed: boolean, reversal: boolean }

type Query = z.output<typeof StockQuery>
const matching = (text: string): SQL => sql`(i.code ilike ${`%${text}%`} or i.name ilike ${`%${text}%`} or l.number ilike ${`%${text}%`})`
const SORTS: Readonly<Record<string, SQL>> = { code: sql`i.code, p.code, l.number`, bin: sql`p.code, i.code, l.number`, expires: sql`l.expires_on nulls last, i.code` }

/** What lies where, a row an item, bin, lot and status. */
export async function listBalances(query: Query): Promise<Paged<BalanceRow>> {
  const where = sql`b.on_hand > 0 and ${query.search === '' ? sql`true` : matching(query.search)} and (${query.item}::int is null or b.item_id = ${query.item}) and (${query.bin}::int is null or b.place_id = ${query.bin})`
  const from = sql`from balances b join items i on i.id = b.item_id join places p on p.id = b.place_id join units u on u.code = i.stock_unit left join lots l on l.id = b.lot_id where ${where}`
  const [count] = await rows<{ total: number }>(db, sql`select count(*)::int as total ${from}`)
  const list = await rows<BalanceRow>(db, sql`
    select b.id, b.item_id as "itemId", i.code, i.name, p.id as "binId", p.name as bin, l.number as lot, l.expires_on as "expiresOn", b.status, b.on_hand as "onHand", b.allocated, i.stock_unit as unit, u.symbol, u.decimals
    ${from} order by ${SORTS[query.sort] ?? SORTS.code!}, b.id limit ${query.size} offset ${(query.page - 1) * query.size}`)
  return { rows: list, total: count!.total }
}

/** The ledger, newest first. */
export async function listMoves(query: Query): Promise<Paged<MoveRow>> {
  const where = sql`${query.search === '' ? sql`true` : sql`(${matching(query.search)} or o.label ilike ${`%${query.search}%`})`} and (${query.item}::int is null or m.item_id = ${query.item}) and (${query.bin}::int is null or ${query.bin} in (m.from_place_id, m.to_place_id))`
  const from = sql`from moves m join postings o on o.id = m.posting_id join users w on w.id = o.user_id join items i on i.id = m.item_id join units u on u.code = i.stock_unit
    join places f on f.id = m.from_place_id join places t on t.id = m.to_place_id left join lots l on l.id = m.lot_id where ${where}`
  const [count] = await rows<{ total: number }>(db, sql`select count(*)::int as total ${from}`)
  const list = await rows<MoveRow>(db, sql`
    select m.id, o.id as "postingId", o.kind, o.label, o.reason, o.effective_on as "effectiveOn", o.recorded_at::text as "recordedAt", w.name as who, m.item_id as "itemId", i.code, i.name, l.number as lot, m.quantity, u.symbol, u.decimals,
      f.name as "from", t.name as "to", t.kind = 'bin' as incoming, f.kind = 'bin' as outgoing, m.entered_quantity as entered, m.entered_unit as "enteredUnit", m.residue_numerator as "residueNumerator", m.residue_denominator as "residueDenominator", m.value,
      exists (select 1 from postings r where r.reverses_id = o.id) as reversed, o.reverses_id is not null as reversal
    ${from} order by m.id desc limit ${query.size} offset ${(query.page - 1) * query.size}`)
  return { rows: list, total: count!.total }
}

export interface LedgerDifference { itemId: number, place: string, lot: string | null, status: string, onHand: string, moved: string }

/** Works the balances out again from the moves alone, and names every one that differs; none should. */
export async function compareLedger(): Promise<LedgerDifference[]> {
  return rows<LedgerDifference>(db, sql`
    with ends as (
      select item_id, to_place_id as place_id, lot_id, to_status as status, quantity from moves union all
      select item_id, from_place_id, lot_id, from_status, -quantity from moves),
    moved as (select item_id, place_id, lot_id, status, sum(quantity) as quantity from ends join places p on p.id = place_id where p.kind = 'bin' group by 1, 2, 3, 4)
    select coalesce(b.item_id, m.item_id) as "itemId", p.name as place, l.number as lot, coalesce(b.status, m.status) as status, coalesce(b.on_hand, 0) as "onHand", coalesce(m.quantity, 0) as moved
    from balances b full join moved m on m.item_id = b.item_id and m.place_id = b.place_id and m.lot_id is not distinct from b.lot_id and m.status = b.status
    join places p on p.id = coalesce(b.place_id, m.place_id) left join lots l on l.id = coalesce(b.lot_id, m.lot_id)
    where coalesce(b.on_hand, 0) <> coalesce(m.quantity, 0)`)
}
