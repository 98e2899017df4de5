import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { loadRecorded } from '../../ledger/cost-history'
import { recordAdjustments } from '../../ledger/record-adjustments'
import { workOut, writePools } from '../../ledger/work-out'
import { accountNames } from '../books/value'

/** An invoice's amount for goods of one receipt, in minor units of the company's currency. */
export interface InvoiceEntry {
  readonly itemId: number
  readonly site: number
  readonly amount: bigint
}

/** What an act was worth to each account, in minor units. */
export type Revalued = { account: string; amount: string }[]

/** Writes what is owed to the supplier for goods that were received; `sign` −1n takes it back. */
export const writeEntries = (
  tx: Tx,
  postingId: number,
  day: string,
  parts: readonly InvoiceEntry[],
  sign: 1n | -1n,
): Promise<void> => writePairs(tx, postingId, day, parts, { debit: 'supplier', credit: 'payable', sign })

/** Writes that goods which were returned pay for goods that were received, or that neither is paid for. */
export const writeReturnEntries = (
  tx: Tx,
  postingId: number,
  day: string,
  parts: readonly InvoiceEntry[],
  sign: 1n | -1n = 1n,
): Promise<void> => writePairs(tx, postingId, day, parts, { debit: 'supplier', credit: 'returned', sign })

/** Writes what the supplier gives for goods that were returned. */
export const writeReturnCredit = (
  tx: Tx,
  postingId: number,
  day: string,
  returned: InvoiceEntry,
  sign: 1n | -1n = 1n,
): Promise<void> => writePairs(tx, postingId, day, [returned], { debit: 'payable', credit: 'returned', sign })

interface Accounts {
  readonly debit: string
  readonly credit: string
  readonly sign: 1n | -1n
}

async function writePairs(
  tx: Tx,
  postingId: number,
  day: string,
  parts: readonly InvoiceEntry[],
  { debit, credit, sign }: Accounts,
): Promise<void> {
  const entries = parts.flatMap((part) =>
    [
      { account: debit, amount: part.amount * sign },
      { account: credit, amount: -part.amount * sign },
    ].map((entry) => ({
      account: entry.account,
      amount: entry.amount.toString(),
      item_id: part.itemId,
      site_id: part.site,
    })),
  )
  await rows(
    tx,
    sql`
      insert into entries (posting_id, account, item_id, site_id, amount, effective_on)
      select ${postingId}, account, item_id, site_id, amount, ${day}::date
      from jsonb_to_recordset(${JSON.stringify(entries)}::jsonb) as e(
        account text, item_id int, site_id int, amount bigint
      )`,
  )
}

/** Works out anew what goods are worth that were received by these moves, and what followed from them. */
export async function passOn(
  tx: Tx,
  postingId: number,
  moveIds: readonly number[],
  closed: string | null,
): Promise<Revalued> {
  const recorded = await loadRecorded(tx, moveIds)
  const worked = await workOut(
    tx,
    recorded.map((move) => ({ pool: move.to!, from: move })),
    { moves: [], work: 0n },
    null,
  )
  await writePools(tx, worked.pools)
  await recordAdjustments(tx, postingId, worked, closed)
  return accountNames(
    await rows<{ account: string; amount: string }>(
      tx,
      sql`
        select place_kind as account, sum(amount)::text as amount
        from journal
        where posting_id = ${postingId}
        group by 1
        order by 1`,
    ),
  )
}
