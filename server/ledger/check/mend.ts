import { sql } from 'drizzle-orm'
import { pool, rows, type Tx } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { today } from '~~/server/services/company/company'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { noteChange } from '../../documents'
import { recordAdjustments } from '../record-adjustments'
import { recordPosting } from '../post'
import { replay, writePools } from '../work-out'
import { MOVED, SET_ASIDE } from './balances'
import { checkLedger, differencesIn } from './check-ledger'
import type { LedgerDifference } from './difference'
import { mendDocuments } from './documents'
import { poolsOf } from './values'

export interface Mended {
  /** What differed, and what of it still does. */
  readonly differences: readonly LedgerDifference[]
  readonly left: readonly LedgerDifference[]
}

/**
 * Writes what was recorded into all that is kept as a sum of it, where it differs. Postings wait meanwhile.
 *
 * Moves stay as they are. What they turn out to be worth is written down as adjustments under a posting of its own.
 */
export async function mendLedger(tx: Tx, actor: Pick<Actor, 'userId' | 'today'>): Promise<Mended> {
  await rows(tx, sql`select pg_advisory_xact_lock(7301)`)
  await tx.execute(sql`set local work_mem = '128MB'`)
  const differences = await differencesIn(tx)
  if (differences.length === 0) {
    return { differences, left: [] }
  }
  await requireCovered(tx)
  await mendBalances(tx)
  await mendDocuments(tx)
  await mendValues(tx, actor)
  if (differences.some(({ kind }) => kind === 'month end' || kind === 'on hand')) {
    await rows(tx, sql`delete from month_ends`)
  }
  await noteChange(tx, actor, { kind: 'ledger', id: 1 }, null, { mended: differences })
  return { differences, left: await differencesIn(tx) }
}

/** What is set aside must lie there by the moves. Errors: `not-now`, naming what does not. */
async function requireCovered(tx: Tx): Promise<void> {
  const found = await rows<{ what: string; there: string; wanted: string }>(
    tx,
    sql`
      select
        concat_ws(' · ', i.code, p.name) as what, trim_scale(coalesce(m.quantity, 0))::text as there,
        trim_scale(a.quantity)::text as wanted
      from (${SET_ASIDE}) a
      join items i on i.id = a.item_id
      join places p on p.id = a.place_id
      left join (${MOVED}) m on m.item_id = a.item_id
        and m.place_id = a.place_id
        and m.status = 'available'
        and coalesce(m.lot_id, 0) = coalesce(a.lot_id, 0)
        and coalesce(m.piece_id, 0) = coalesce(a.piece_id, 0)
      where a.quantity > coalesce(m.quantity, 0)
      order by 1`,
  )
  if (found.length > 0) {
    const named = found.map(({ what, there, wanted }) => `${what}: ${wanted} allocated, ${there} there`).join('; ')
    throw new Refusal('not-now', `More is allocated than there is by the moves. Free it first. ${named}.`)
  }
}

async function mendBalances(tx: Tx): Promise<void> {
  await rows(
    tx,
    sql`
      insert into balances (item_id, place_id, lot_id, piece_id, status)
      select item_id, place_id, lot_id, piece_id, status
      from (${MOVED}) m
      on conflict do nothing`,
  )
  await rows(
    tx,
    sql`
      with worked as (
        select b.id, coalesce(m.quantity, 0) as on_hand, coalesce(a.quantity, 0) as allocated
        from balances b
        left join (${MOVED}) m on m.item_id = b.item_id
          and m.place_id = b.place_id
          and m.status = b.status
          and coalesce(m.lot_id, 0) = coalesce(b.lot_id, 0)
          and coalesce(m.piece_id, 0) = coalesce(b.piece_id, 0)
        left join (${SET_ASIDE}) a on a.item_id = b.item_id
          and a.place_id = b.place_id
          and b.status = 'available'
          and coalesce(a.lot_id, 0) = coalesce(b.lot_id, 0)
          and coalesce(a.piece_id, 0) = coalesce(b.piece_id, 0)
      )
      update balances b
      set on_hand = w.on_hand, allocated = w.allocated
      from worked w
      where w.id = b.id and (b.on_hand, b.allocated) <> (w.on_hand, w.allocated)`,
  )
}

async function mendValues(tx: Tx, actor: Pick<Actor, 'userId' | 'today'>): Promise<void> {
  await rows(
    tx,
    sql`
      insert into holdings (item_id, site_id, line_id)
      select distinct m.item_id, coalesce(p.site_id, 0), case when p.kind = 'transit' then m.document_line_id else 0 end
      from moves m
      join places p on p.id in (m.from_place_id, m.to_place_id)
      where p.kind in ('bin', 'transit')
      on conflict do nothing`,
  )
  const worked = await replay(
    tx,
    (await poolsOf(tx)).map((entry) => entry.key),
  )
  await writePools(tx, worked.pools)
  if (worked.moves.size + worked.standards.length + worked.closings.length === 0) {
    return
  }
  const [own] = await rows<{ closed: string | null }>(tx, sql`select closed_through as closed from company`)
  const [postingId] = await recordPosting(
    tx,
    { userId: actor.userId },
    {
      kind: 're-valuation',
      label: 'Check of the ledger: values mended',
      reason: 'ledger check',
      effectiveOn: actor.today,
    },
  )
  await recordAdjustments(tx, postingId!, worked, own!.closed)
}

/**
 * The check as a command, on its own connection, which is closed after it; with `mend`, what differs is mended in the
 * name of the first owner.
 */
export async function checkOnce({ mend }: { readonly mend: boolean }): Promise<Mended> {
  try {
    if (!mend) {
      const differences = await checkLedger()
      return { differences, left: differences }
    }
    return await inTransaction(async (tx) => {
      const [actor] = await rows<{ userId: number }>(
        tx,
        sql`select min(id) as "userId" from users where role = 'owner'`,
      )
      return mendLedger(tx, { userId: actor!.userId, today: await today() })
    })
  } finally {
    await pool.end()
  }
}
