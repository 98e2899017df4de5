import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { anyOf, MEASURED_ITEM } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { TraitValues } from '~~/shared/stock/requests'
import { traitsOf } from './pieces'

/** A lot with all that is recorded of it, its pieces, and where it lies. */
export async function loadLot(id: number) {
  const [lot] = await rows<{
    id: number
    itemId: number
    code: string
    name: string
    symbol: string
    stockUnit: string
    tracking: string
    number: string
    supplierNumber: string
    madeOn: string | null
    receivedOn: string | null
    expiresOn: string | null
    bestBeforeOn: string | null
    traits: TraitValues
    note: string
    version: number
  }>(
    db,
    sql`
      select
        l.id, l.item_id as "itemId", i.code, i.name, i.symbol, i.stock_unit as "stockUnit", i.tracking,
        l.number, l.supplier_number as "supplierNumber", l.made_on as "madeOn", l.received_on as "receivedOn",
        l.expires_on as "expiresOn", l.best_before_on as "bestBeforeOn", l.traits, l.note, l.version
      from lots l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      where l.id = ${id}`,
  )
  if (!lot) {
    throw new Refusal('not-found', 'There is no such lot.')
  }
  const pieces = await rows<{
    id: number
    label: string
    original: string
    remaining: string
    parent: string | null
    traits: TraitValues
  }>(
    db,
    sql`
      select
        c.id, c.label, trim_scale(c.original)::text as original,
        trim_scale(coalesce(sum(b.on_hand), 0))::text as remaining, m.label as parent, c.traits
      from pieces c
      left join balances b on b.piece_id = c.id
      left join pieces m on m.id = c.parent_id
      where c.lot_id = ${id}
      group by c.id, m.label
      order by c.label`,
  )
  return { ...lot, pieces, rules: await traitsOf(db, lot.itemId) }
}

/** A piece with its lot, and what was cut from it. */
export async function loadPiece(id: number) {
  const [piece] = await rows<{
    id: number
    itemId: number
    code: string
    name: string
    symbol: string
    stockUnit: string
    lotId: number | null
    lot: string | null
    label: string
    original: string
    remaining: string
    parentId: number | null
    parent: string | null
    traits: TraitValues
    lotTraits: TraitValues
    note: string
    version: number
  }>(
    db,
    sql`
      select
        c.id, c.item_id as "itemId", i.code, i.name, i.symbol, i.stock_unit as "stockUnit", c.lot_id as "lotId",
        l.number as lot, c.label, trim_scale(c.original)::text as original,
        trim_scale(
          coalesce((select sum(on_hand) from balances b where b.piece_id = c.id), 0)
        )::text as remaining,
        c.parent_id as "parentId", m.label as parent, c.traits, coalesce(l.traits, '{}') as "lotTraits", c.note,
        c.version
      from pieces c
      join ${MEASURED_ITEM} i on i.id = c.item_id
      left join lots l on l.id = c.lot_id
      left join pieces m on m.id = c.parent_id
      where c.id = ${id}`,
  )
  if (!piece) {
    throw new Refusal('not-found', 'There is no such piece.')
  }
  return {
    ...piece,
    cut: await rows<{ id: number; label: string; original: string }>(
      db,
      sql`select id, label, trim_scale(original)::text as original from pieces where parent_id = ${id} order by label`,
    ),
    rules: await traitsOf(db, piece.itemId),
  }
}

export interface PutAway {
  itemId: number
  binId: number
  bin: string
  why: string
}

/**
 * Where goods of each item would best be put: beside what is there of it, else where it lay last, else the first bin in
 * the order of picking.
 */
export const suggestBins = (itemIds: readonly number[], siteId: number | null): Promise<PutAway[]> =>
  itemIds.length === 0
    ? Promise.resolve([])
    : rows<PutAway>(
        db,
        sql`
          select distinct
            on (i.id) i.id as "itemId", p.id as "binId", p.name as bin,
            case
              when b.on_hand > 0 then 'beside what is there'
              when b.id is not null then 'where it lay last'
              else 'first in the order of picking'
            end as why
          from items i
          join places p on p.kind = 'bin'
            and not p.retired
            and not p.closed_to_receiving
            and not p.quarantine
            and (${siteId}::int is null or p.site_id = ${siteId})
          left join lateral (
            select max(id) as id, sum(on_hand) as on_hand
            from balances b
            where b.item_id = i.id and b.place_id = p.id and b.status = 'available'
            having count(*) > 0
          ) b on true
          where ${anyOf(sql`i.id`, itemIds)}
          order by
            i.id, coalesce(b.on_hand, 0) > 0 desc, b.on_hand desc nulls last, b.id desc nulls last,
            p.pick_order, p.id`,
      )
