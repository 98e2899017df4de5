import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { MINOR, type LedgerDifference } from './difference'

/**
 * Every posting's lines sum to nothing, and what the stock accounts come to is what the pools are kept at. Minor units.
 */
export async function checkJournal(reader: Reader): Promise<LedgerDifference[]> {
  const open = await rows<{ what: string; kept: string }>(
    reader,
    sql`
      select o.label as what, sum(j.amount)::text as kept
      from journal j
      join postings o on o.id = j.posting_id
      group by o.id
      having sum(j.amount) <> 0
      order by o.id`,
  )
  const stock = await rows<{ what: string; kept: string; worked: string }>(
    reader,
    sql`
      select
        i.code || ' · ' || coalesce(s.name, 'on the way') as what, coalesce(h.value, 0)::text as kept,
        coalesce(j.amount, 0)::text as worked
      from (select item_id, site_id, sum(value) as value from holdings group by 1, 2) h
      full join (
        select item_id, site_id, sum(amount) as amount
        from journal
        where place_kind in ('bin', 'transit')
        group by 1, 2
      ) j on j.item_id = h.item_id and j.site_id = h.site_id
      join items i on i.id = coalesce(h.item_id, j.item_id)
      left join sites s on s.id = coalesce(h.site_id, j.site_id)
      where coalesce(h.value, 0) <> coalesce(j.amount, 0)
      order by 1`,
  )
  return [
    ...open.map((row): LedgerDifference => ({ kind: 'journal', unit: MINOR, worked: '0', ...row })),
    ...stock.map((row): LedgerDifference => ({ kind: 'journal', unit: MINOR, ...row })),
  ]
}
