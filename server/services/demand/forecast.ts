import { eq, sql } from 'drizzle-orm'
import type { z } from 'zod'
import { toDay, toIso, weekday } from '~~/core/calendar'
import { db, rows, type Tx } from '~~/server/database/client'
import { forecastCells, forecasts } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ForecastEdit, NewForecast } from '~~/shared/demand'
import { asNumeric, loadFrames, readQuantity } from '../catalogue/frames'
import { noteChange, requireVersion } from '../company/command'

export const listForecasts = () => db.select().from(forecasts).orderBy(forecasts.id)

export async function createForecast(tx: Tx, actor: Actor, edit: z.output<typeof NewForecast>): Promise<{ id: number }> {
  const monday = toIso(toDay(edit.firstOn) - weekday(toDay(edit.firstOn)))
  const made = await tx.insert(forecasts).values({ ...edit, firstOn: monday }).onConflictDoNothing().returning()
  if (!made[0]) throw new Refusal('taken', 'There is a forecast of this name.', { name: `There is a forecast “${edit.name}” already. Choose another name.` })
  await noteChange(tx, actor, 'forecast', made[0].id, null, edit)
  return { id: made[0].id }
}

/** A forecast as a grid: a row an item, a column a week. Quantities in the stock unit. */
export async function loadForecast(id: number) {
  const [forecast] = await db.select().from(forecasts).where(eq(forecasts.id, id))
  if (!forecast) throw new Refusal('not-found', 'There is no such forecast.')
  const cells = await rows<{ itemId: number, code: string, name: string, symbol: string, startsOn: string, quantity: string }>(db, sql`
    select c.item_id as "itemId", i.code, i.name, u.symbol, c.starts_on as "startsOn", c.quantity from forecast_cells c join items i on i.id = c.item_id join units u on u.code = i.stock_unit where c.forecast_id = ${id} order by i.code, c.starts_on`)
  return { ...forecast, weekStarts: Array.from({ length: forecast.weeks }, (_, week) => toIso(toDay(forecast.firstOn) + week * 7)), cells }
}

/** Sets cells; an empty quantity or 0 takes a cell out. All or nothing. */
export async function changeForecast(tx: Tx, actor: Actor, id: number, edit: z.output<typeof ForecastEdit>): Promise<{ version: number }> {
  const [before] = await tx.select().from(forecasts).where(eq(forecasts.id, id)).for('update')
  if (!before) throw new Refusal('not-found', 'There is no such forecast.')
  await requireVersion(tx, 'forecast', id, edit.version, before.version)
  const frames = await loadFrames(tx, [...new Set(edit.cells.map(cell => cell.itemId))])
  const last = toDay(before.firstOn) + before.weeks * 7
  for (const [index, cell] of edit.cells.entries()) {
    const field = `cells.${index}`
    const frame = frames.get(cell.itemId)
    const day = toDay(cell.startsOn)
    const wrong = !frame ? 'There is no such item.' : weekday(day) !== 0 || day < toDay(before.firstOn) || day >= last ? `${cell.startsOn} is not the Monday of a week of this forecast.` : null
    if (wrong !== null) throw new Refusal('invalid-input', wrong, { [field]: wrong })
    if (cell.quantity === '' || /^0+([.,]0*)?$/.test(cell.quantity)) {
      await rows(tx, sql`delete from forecast_cells where forecast_id = ${id} and item_id = ${cell.itemId} and starts_on = ${cell.startsOn}`)
      continue
    }
    const quantity = asNumeric(readQuantity(frame!, cell.quantity, frame!.stockUnit, field).quantity)
    await tx.insert(forecastCells).values({ forecastId: id, itemId: cell.itemId, startsOn: cell.startsOn, quantity })
      .onConflictDoUpdate({ target: [forecastCells.forecastId, forecastCells.itemId, forecastCells.startsOn], set: { quantity } })
  }
  await tx.update(forecasts).set({ version: before.version + 1 }).where(eq(forecasts.id, id))
  await noteChange(tx, actor, 'forecast', id, { version: before.version }, { version: before.version + 1, cells: edit.cells.map(c => ({ ...c, quantity: c.quantity === '' ? '0' : c.quantity })) })
  return { version: before.version + 1 }
}

