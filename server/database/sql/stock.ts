import { sql, type SQL } from 'drizzle-orm'

/** Stock that may be picked, of a balance `b` in a place `p`. */
export const PICKABLE = sql`b.status = 'available' and not p.closed_to_picking`

/** What of an item may be picked and is not allocated, at one site or at all: `freeQuantity(sql`l.item_id`)`. */
export const freeQuantity = (item: SQL, site?: SQL): SQL => sql`
  coalesce(
    (
      select sum(b.on_hand - b.allocated)
      from balances b
      join places p on p.id = b.place_id
      where b.item_id = ${item} and ${PICKABLE} and ${site === undefined ? sql`true` : sql`p.site_id = ${site}`}
    ),
    0
  )`
