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
