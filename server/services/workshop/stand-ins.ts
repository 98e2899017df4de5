import { sql, type SQL } from 'drizzle-orm'

/** What an item itself lets stand in for it comes after what the bill says. */
const AFTER_THE_BILL = 1000

/**
 * What may stand in for each component of a bill: as the bill says first, then as the items themselves say, both ways
 * where they do.
 *
 * Columns: `component_id`, `item_id`, `rank`, and `numerator` over `denominator`: how much of it stands in for one of
 * the component, in stock units. An item says it the other way round: how much of it one of the substitute replaces.
 */
export const standIns = (bomId: number): SQL => sql`
  (
    select l.item_id as component_id, s.item_id, s.rank, s.numerator, s.denominator
    from bom_substitutes s
    join bom_lines l on l.bom_id = s.bom_id and l.position = s.position
    where s.bom_id = ${bomId}
    union all
    select item_id, substitute_id, ${AFTER_THE_BILL}::int + rank, denominator, numerator
    from item_substitutes
    union all
    select substitute_id, item_id, ${AFTER_THE_BILL}::int + rank, numerator, denominator
    from item_substitutes
    where both_ways
  )`
