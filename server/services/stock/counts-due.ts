import { sql } from 'drizzle-orm'
import { toDay } from '~~/core/calendar/days'
import { classByValue, type ValueClass } from '~~/core/stock/levels'
import { rows, type Reader } from '~~/server/database/client'
import { loadGroupDefaults } from '../catalogue/definitions/inherit'

export interface DueItem {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly class: ValueClass
  readonly everyDays: number
  readonly countedOn: string | null
  readonly lateDays: number
}

/** How often an item of each class is counted, where its group says nothing. */
const CLASS_DAYS: Readonly<Record<ValueClass, number>> = { A: 30, B: 90, C: 180 }

/**
 * Items in stock whose turn to be counted has come: by the interval of their group, else of their class by what left in
 * a year. Never counted ones come first.
 */
export async function dueItems(reader: Reader, today: string): Promise<DueItem[]> {
  const found = await rows<{
    id: number
    code: string
    name: string
    groupId: number
    countedOn: string | null
    used: string
  }>(
    reader,
    sql`
      select
        i.id, i.code, i.name, i.group_id as "groupId",
        (
          select max(c.approved_on)
          from count_lines l
          join stock_counts c on c.id = l.count_id
          where l.item_id = i.id and c.status = 'recorded' and l.counted is not null
        ) as "countedOn",
        coalesce(
          (
            select sum(m.value)
            from moves m
            join places f on f.id = m.from_place_id
            join places t on t.id = m.to_place_id
            where m.item_id = i.id
              and f.kind = 'bin'
              and t.kind in ('customer', 'workshop')
              and m.effective_on > ${today}::date - 365
          ),
          0
        )::text as used
      from items i
      where i.kind = 'stocked'
        and exists (
          select 1
          from balances b
          join places p on p.id = b.place_id and p.kind = 'bin'
          where b.item_id = i.id and b.on_hand > 0
        )
      order by i.code`,
  )
  const defaults = await loadGroupDefaults(reader)
  const classes = classByValue(found.map((item) => ({ id: item.id, value: BigInt(item.used) })))
  return found
    .map((item): DueItem => {
      const own = classes.get(item.id)!
      const everyDays = defaults.get(item.groupId)?.countDays ?? CLASS_DAYS[own]
      return {
        id: item.id,
        code: item.code,
        name: item.name,
        class: own,
        everyDays,
        countedOn: item.countedOn,
        lateDays: item.countedOn === null ? Number.MAX_SAFE_INTEGER : toDay(today) - toDay(item.countedOn) - everyDays,
      }
    })
    .filter((item) => item.lateDays >= 0)
    .sort((a, b) => b.lateDays - a.lateDays || (a.code < b.code ? -1 : 1))
}
