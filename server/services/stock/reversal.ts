import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import type { Reversals } from '~~/server/ledger/reversals'
import { openAgain, takeBackLines } from '~~/server/ledger/take-back-lines'
import { Refusal } from '~~/server/utils/refusal'

/** Which column of a transfer's lines a posting counted on. */
const TRANSFER_COLUMNS = { 'transfer out': 'shipped', 'transfer in': 'received', correction: 'lost' } as const

export const stockReversals: Reversals = {
  'posting opening stock': { require: (tx, original) => requireUntouched(tx, original.id) },
  'document transfer': {
    reopen: async (tx, original, lines) => {
      const column = TRANSFER_COLUMNS[original.kind as keyof typeof TRANSFER_COLUMNS]
      await takeBackLines(tx, 'transfer_lines', column, lines)
      await openAgain(tx, 'transfers', original.documentId!)
    },
  },
  'document stock count': {
    reopen: async (tx, original) => {
      await rows(
        tx,
        sql`
          update stock_counts
          set status = 'open', posting_id = null, approved_by = null, approved_on = null, version = version + 1
          where id = ${original.documentId}`,
      )
    },
  },
}

/** Opening stock stands once something else has happened to what it brought. */
async function requireUntouched(tx: Tx, postingId: number): Promise<void> {
  const [later] = await rows<{ code: string; label: string }>(
    tx,
    sql`
      select i.code, o.label
      from moves m
      join postings o on o.id = m.posting_id
      join items i on i.id = m.item_id
      where m.item_id in (select item_id from moves where posting_id = ${postingId})
        and o.kind <> 'opening stock'
        and o.kind <> 'reversal'
        and ${notReversed('o.id')}
      order by m.id
      limit 1`,
  )
  if (later) {
    throw new Refusal(
      'not-now',
      `${later.code} has moved since (“${later.label}”), so its opening stock stands. Correct what is wrong instead.`,
    )
  }
}
