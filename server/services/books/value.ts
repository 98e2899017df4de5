import { sql } from 'drizzle-orm'
import { accountOf, type AccountClass } from '~~/core/costing'
import { db, rows } from '~~/server/database/client'

export interface ValueRow { itemId: number, code: string, name: string, group: string, quantity: string, symbol: string, decimals: number, value: string }

/** Stock at its moving average, item by item. Values in minor units. */
export const stockValue = (): Promise<ValueRow[]> => rows<ValueRow>(db, sql`
  select i.id as "itemId", i.code, i.name, g.name as "group", sum(h.quantity) as quantity, u.symbol, u.decimals, sum(h.value)::text as value
  from holdings h join items i on i.id = h.item_id join item_groups g on g.id = i.group_id join units u on u.code = i.stock_unit where h.quantity > 0 or h.value > 0 group by i.id, g.name, u.symbol, u.decimals order by g.name, i.code`)

export interface JournalRow { postingId: number, day: string, label: string, who: string, account: AccountClass, amount: string }

const ACCOUNTS: Readonly<Record<string, AccountClass>> = { ...accountOf, variance: 'variance', work: 'work absorbed' }

/** The value journal: each act's debits (positive) and credits by account class; the lines of an act sum to nothing. */
export async function journal(limit: number, before?: number): Promise<JournalRow[]> {
  const found = await rows<Omit<JournalRow, 'account'> & { kind: string }>(db, sql`
    select j.posting_id as "postingId", o.effective_on as day, o.label, u.name as who, j.place_kind as kind, sum(j.amount)::text as amount from journal j join postings o on o.id = j.posting_id join users u on u.id = o.user_id
    where j.posting_id in (select id from postings where id < ${before ?? 2_147_483_647} order by id desc limit ${limit}) group by 1, 2, 3, 4, 5 having sum(j.amount) <> 0 order by 1 desc, sum(j.amount) desc`)
  return found.map(({ kind, ...row }) => ({ ...row, account: ACCOUNTS[kind]! }))
}

export interface AccountRow { account: AccountClass, amount: string }

/** What each account class holds; they sum to nothing. */
export async function accounts(): Promise<AccountRow[]> {
  const found = await rows<{ kind: string, amount: string }>(db, sql`select place_kind as kind, sum(amount)::text as amount from journal group by 1`)
  return found.map(({ kind, amount }) => ({ account: ACCOUNTS[kind]!, amount }))
}
