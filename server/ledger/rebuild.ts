import { sql } from 'drizzle-orm'
import { db, pool, rows, type Tx } from '~~/server/database/client'

export interface Rebuilt {
  readonly moves: number
  readonly balances: number
  readonly mended: readonly { readonly balanceId: number; readonly kept: string; readonly moved: string }[]
}

/**
 * Works all balances out again from the moves alone, and mends each that differs; none should.
 *
 * Postings wait meanwhile. What is allocated is not in the moves and stays; a balance that would fall below it is named by its check.
 */
export async function rebuildBalances(tx: Tx): Promise<Rebuilt> {
  await rows(tx, sql`select pg_advisory_xact_lock(7301)`)
  await tx.execute(sql`set local work_mem = '128MB'`)
  await tx.execute(sql`
    create temporary table moved on commit drop as
    select item_id, place_id, lot_id, piece_id, status, sum(quantity) as quantity
    from (
      select item_id, to_place_id as place_id, lot_id, piece_id, to_status as status, quantity
      from moves
      where to_status is not null
      union all
      select item_id, from_place_id, lot_id, piece_id, from_status, -quantity
      from moves
      where from_status is not null
    ) ends
    group by 1, 2, 3, 4, 5`)
  await tx.execute(
    sql`
      insert into balances (item_id, place_id, lot_id, piece_id, status)
      select item_id, place_id, lot_id, piece_id, status
      from moved
      on conflict do nothing`,
  )
  const mended = await rows<{ balanceId: number; kept: string; moved: string }>(
    tx,
    sql`
      with differing as (
        select b.id, b.on_hand as kept, coalesce(m.quantity, 0) as moved
        from balances b
        left join moved m on m.item_id = b.item_id
          and m.place_id = b.place_id
          and m.status = b.status
          and coalesce(m.lot_id, 0) = coalesce(b.lot_id, 0)
          and coalesce(m.piece_id, 0) = coalesce(b.piece_id, 0)
        where b.on_hand <> coalesce(m.quantity, 0)
      )
      update balances b
      set on_hand = d.moved
      from differing d
      where d.id = b.id
      returning b.id as "balanceId", d.kept::text, d.moved::text`,
  )
  if (mended.length > 0) {
    await tx.execute(sql`delete from month_ends`)
  }
  const [counted] = await rows<{ moves: number; balances: number }>(
    tx,
    sql`select (select count(*)::int from moves) as moves, (select count(*)::int from balances) as balances`,
  )
  return { ...counted!, mended }
}

/** The same as a command: on its own connection, which is closed after it. */
export async function rebuildOnce(): Promise<Rebuilt> {
  try {
    return await db.transaction(rebuildBalances)
  } finally {
    await pool.end()
  }
}
