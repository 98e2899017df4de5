import { eq, sql } from 'drizzle-orm'
import { periodsBetween } from '~~/core/calendar/periods'
import { db, rows } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { forecasts } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { ForecastAnswer, ForecastHead, ForecastRow } from '~~/shared/demand/forecast'

export const listForecasts = () =>
  rows<ForecastHead>(
    db,
    sql`
      select
        f.id, f.name, f.note, f.step, f.first_on as "firstOn", f.last_on as "lastOn",
        (
          select count(distinct item_id)::int
          from (
            select item_id
            from forecast_cells c
            where c.forecast_id = f.id
            union
            select item_id
            from forecast_items i
            where i.forecast_id = f.id
          ) n
        ) as items
      from forecasts f
      order by f.id`,
  )

/** A forecast as a grid: a row an item, a column a period. Quantities in the stock unit. */
export async function loadForecast(id: number): Promise<ForecastAnswer> {
  const [forecast] = await db.select().from(forecasts).where(eq(forecasts.id, id))
  if (!forecast) {
    throw new Refusal('not-found', 'There is no such forecast.')
  }
  const found = await rows<Omit<ForecastRow, 'cells'> & { cells: { on: string; q: string; c: string | null }[] }>(
    db,
    sql`
      select
        i.id as "itemId", i.code, i.name, i.symbol, i.finest_step as step, g.id as "groupId", g.name as "group",
        f.method, f.parameters, f.result,
        coalesce(
          (
            select json_agg(
              json_build_object(
                'on', c.starts_on, 'q', trim_scale(c.quantity)::text, 'c', trim_scale(c.computed)::text
              )
              order by c.starts_on
            )
            from forecast_cells c
            where c.forecast_id = ${id} and c.item_id = i.id
          ),
          '[]'
        ) as cells
      from (
        select item_id
        from forecast_cells
        where forecast_id = ${id}
        union
        select item_id
        from forecast_items
        where forecast_id = ${id}
      ) x
      join ${MEASURED_ITEM} i on i.id = x.item_id
      join item_groups g on g.id = i.group_id
      left join forecast_items f on f.forecast_id = ${id} and f.item_id = i.id
      order by g.name, i.code`,
  )
  return {
    ...forecast,
    periods: periodsBetween(forecast.firstOn, forecast.lastOn, forecast.step),
    rows: found.map((row) => ({
      ...row,
      cells: Object.fromEntries(row.cells.map((cell) => [cell.on, { quantity: cell.q, computed: cell.c }])),
    })),
  }
}

/** The grid as lines of a file that can be brought in again: a line an item, a column a period. */
export async function forecastSheet(id: number): Promise<{ name: string; headings: string[]; lines: string[][] }> {
  const { name, periods, rows: list } = await loadForecast(id)
  return {
    name,
    headings: ['item', 'name', 'unit', ...periods.map((period) => period.first)],
    lines: list.map((row) => [
      row.code,
      row.name,
      row.symbol,
      ...periods.map((period) => row.cells[period.first]?.quantity ?? ''),
    ]),
  }
}

/** How near quantities are for cells to look alike, and of how many of the smaller forecast they must. */
const NEAR = '0.25'
const MOST_OF_IT = '0.8'

/**
 * Pairs of forecasts that look alike, as a forecast and its copy do: most of the smaller one stands in the other, of
 * the same items and days and nearly the same.
 */
export const alikeForecasts = () =>
  rows<{ one: number; other: number }>(
    db,
    sql`
      with sizes as (
        select forecast_id, count(*) as cells from forecast_cells where quantity > 0 group by 1
      ),
      pairs as (
        select a.forecast_id as one, b.forecast_id as other, count(*) as shared
        from forecast_cells a
        join forecast_cells b on b.item_id = a.item_id
          and b.starts_on = a.starts_on
          and b.forecast_id > a.forecast_id
          and abs(b.quantity - a.quantity) <= ${NEAR}::numeric * a.quantity
        where a.quantity > 0
        group by 1, 2
      )
      select p.one, p.other
      from pairs p
      join sizes s on s.forecast_id = p.one
      join sizes t on t.forecast_id = p.other
      where p.shared >= ${MOST_OF_IT}::numeric * least(s.cells, t.cells)
      order by 1, 2`,
  )
