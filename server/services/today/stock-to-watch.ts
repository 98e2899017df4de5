import { sql } from 'drizzle-orm'
import { toDay, toIso } from '~~/core/calendar/days'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { MANY, quantity, type TodayLine } from './today-line'

/**
 * Goods that expire, are held back, wait for inspection, are to leave for another site or to come from it, and counts
 * that are open.
 */
export const toWatch = (today: string): Promise<TodayLine[]> =>
  rows<TodayLine>(
    db,
    sql`
      select *
      from (
        select
          'stock' as area, 'lot:' || l.id as id, l.expires_on as day, i.code || ' lot ' || l.number as title,
          ${quantity(sql`sum(b.on_hand)`)} || ' ' || i.symbol || case
            when l.expires_on < ${today} then ' expired'
            else ' expires soon'
          end as detail,
          'See where it lies' as act, '/stock?search=' || i.code as link, l.expires_on < ${today} as urgent
        from balances b
        join lots l on l.id = b.lot_id
        join ${MEASURED_ITEM} i on i.id = b.item_id
        where b.on_hand > 0 and l.expires_on <= ${toIso(toDay(today) + 30)}
        group by l.id, i.code, i.symbol
        union all
        select
          'stock', 'held:' || b.id, null, i.code || ' in ' || p.name,
          ${quantity(sql`b.on_hand`)} || ' ' || i.symbol || ' ' || b.status, 'See where it lies',
          '/stock?search=' || i.code, false
        from balances b
        join ${MEASURED_ITEM} i on i.id = b.item_id
        join places p on p.id = b.place_id
        where b.on_hand > 0
          and b.status not in ('available', 'on the way')
          and not exists (
            select 1
            from inspections n
            join inspection_goods g on g.inspection_id = n.id
            where n.status = 'open'
              and n.item_id = b.item_id
              and b.status = 'on hold'
              and g.lot_id is not distinct from b.lot_id
              and g.piece_id is not distinct from b.piece_id
              and (b.lot_id is not null or b.piece_id is not null or g.place_id = b.place_id)
          )
        union all
        select
          'stock', 'inspection:' || n.id, n.opened_on, n.number || ' ' || i.code,
          ${quantity(sql`sum(g.quantity)`)} || ' ' || i.symbol || ' on hold for inspection', 'Inspect',
          '/stock/inspections/' || n.id, false
        from inspections n
        join inspection_goods g on g.inspection_id = n.id
        join ${MEASURED_ITEM} i on i.id = n.item_id
        where n.status = 'open'
        group by n.id, i.code, i.symbol
        union all
        select
          'stock', 'transfer:' || t.id,
          case when bool_or(l.shipped > l.received + l.lost) then t.due_on else t.leaves_on end,
          t.number || ' ' || f.name || ' → ' || g.name,
          string_agg(
            ${quantity(sql`
              case
                when l.shipped > l.received + l.lost then l.shipped - l.received - l.lost
                else l.quantity - l.shipped
              end`)} || ' ' || i.symbol || ' ' || i.code,
            ', '
            order by l.line
          ),
          case when bool_or(l.shipped > l.received + l.lost) then 'Receive' else 'Ship' end,
          '/stock/transfers/' || t.id, t.due_on < ${today}
        from transfers t
        join sites f on f.id = t.from_site_id
        join sites g on g.id = t.to_site_id
        join transfer_lines l on l.transfer_id = t.id
          and (l.shipped > l.received + l.lost or l.shipped < l.quantity)
        join ${MEASURED_ITEM} i on i.id = l.item_id
        where t.status = 'open' and t.leaves_on <= ${toIso(toDay(today) + 2)}
        group by t.id, f.name, g.name
        union all
        select
          'stock', 'count:' || c.id, c.opened_on, c.number || ' ' || c.name,
          count(l.counted) || ' of ' || count(*) || ' lines counted', 'Count', '/stock/counts/' || c.id, false
        from stock_counts c
        join count_lines l on l.count_id = c.id
        where c.status = 'open'
        group by c.id
      ) w
      order by day nulls last
      limit ${MANY}`,
  )
