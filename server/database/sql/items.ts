import { sql, type SQL } from 'drizzle-orm'

/** Items with the symbol and the decimals of their stock unit: `join ${MEASURED_ITEM} i on i.id = l.item_id`. */
export const MEASURED_ITEM = sql`(
  select items.*, units.symbol, units.decimals
  from items
  join units on units.code = items.stock_unit
)`

/** The ids of groups and of all groups below them: `i.group_id in ${groupsBelow(sql`id = ${group}`)}`. */
export const groupsBelow = (start: SQL): SQL => sql`(
  with recursive below as (
    select id
    from item_groups
    where ${start}
    union
    select g.id
    from item_groups g
    join below b on g.parent_id = b.id
  )
  select id
  from below
)`

/** Groups with each group above them, themselves first (height 0): columns id, ancestor, height. */
export const GROUP_ANCESTORS = sql`(
  with recursive above as (
    select id, id as ancestor, 0 as height
    from item_groups
    union all
    select a.id, g.parent_id, a.height + 1
    from above a
    join item_groups g on g.id = a.ancestor
    where g.parent_id is not null
  )
  select id, ancestor, height
  from above
)`
