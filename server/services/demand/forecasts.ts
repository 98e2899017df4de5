import { eq, sql } from 'drizzle-orm'
import type * as z from 'zod'
import { toDay, toIso } from '~~/core/calendar/days'
import { daysIn, periodOf, periodsBetween, type Period, type Step } from '~~/core/calendar/periods'
import { roundForecasts } from '~~/core/forecasting'
import { ZERO, ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { forecasts } from '~~/server/database/schema'
import { refuseField, Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type {
  CopyForecast,
  ForecastComputed,
  ForecastEdit,
  ForecastResult,
  NewForecast,
} from '~~/shared/demand/forecast'
import {
  asNumeric,
  loadMeasuredItems,
  readQuantity,
  exactIfPlain,
  type MeasuredItem,
} from '../catalogue/measured-items'
import { lockDocument, lockAsSeen, saveDocument, noteChange } from '../../documents'

/** Its first and last day are moved out to whole periods. */
export async function createForecast(tx: Tx, actor: Actor, edit: NewForecast): Promise<{ id: number }> {
  const [firstOn, lastOn] = [periodOf(edit.firstOn, edit.step).first, periodOf(edit.lastOn, edit.step).last]
  const made = await tx
    .insert(forecasts)
    .values({ name: edit.name, note: edit.note, step: edit.step, firstOn, lastOn })
    .onConflictDoNothing()
    .returning()
  if (!made[0]) {
    throw nameTaken(edit.name)
  }
  await noteChange(tx, actor, { kind: 'forecast', id: made[0].id }, null, { ...edit, firstOn, lastOn })
  return { id: made[0].id }
}

const nameTaken = (name: string): Refusal =>
  new Refusal('taken', 'There is a forecast of this name.', {
    name: `There is a forecast “${name}” already. Choose another name.`,
  })

interface Cell {
  readonly item_id: number
  readonly starts_on: string
  readonly quantity: string
}

/** Sets cells; an empty one goes back to what was computed, or goes. All or nothing. */
export async function changeForecast(
  tx: Tx,
  actor: Actor,
  id: number,
  { cells: typed = [], without = [], ...edit }: Partial<ForecastEdit> & Pick<ForecastEdit, 'version'>,
): Promise<{ version: number }> {
  const before = await lockAsSeen(tx, 'forecast', id, edit.version)
  const { set, cleared } = await readCells(tx, before, typed)
  await rows(
    tx,
    sql`
      delete from forecast_cells c using jsonb_to_recordset(${JSON.stringify(cleared)}::jsonb) as v(
        item_id int, starts_on date
      )
      where c.forecast_id = ${id} and c.item_id = v.item_id and c.starts_on = v.starts_on and c.computed is null`,
  )
  await rows(
    tx,
    sql`
      update forecast_cells c
      set quantity = c.computed
      from jsonb_to_recordset(${JSON.stringify(cleared)}::jsonb) as v(item_id int, starts_on date)
      where c.forecast_id = ${id} and c.item_id = v.item_id and c.starts_on = v.starts_on`,
  )
  await rows(
    tx,
    sql`
      insert into forecast_cells (forecast_id, item_id, starts_on, quantity)
      select ${id}::int, item_id, starts_on, quantity
      from jsonb_to_recordset(${JSON.stringify(set)}::jsonb) as v(item_id int, starts_on date, quantity numeric)
      on conflict (forecast_id, item_id, starts_on) do update
      set quantity = excluded.quantity`,
  )
  await rows(tx, sql`delete from forecast_cells where forecast_id = ${id} and quantity = 0 and computed is null`)
  if (without.length > 0) {
    for (const table of ['forecast_cells', 'forecast_items']) {
      await rows(
        tx,
        sql`
          delete from ${sql.identifier(table)}
          where forecast_id = ${id}
            and ${anyOf(sql`item_id`, without)}`,
      )
    }
  }
  await requireFreeName(tx, edit.name ?? before.name, before.name)
  const { version } = await saveDocument(tx, actor, 'forecast', before, {
    set: { name: edit.name ?? before.name, note: edit.note ?? before.note },
    after: { cells: typed.length, without },
  })
  return { version }
}

async function requireFreeName(tx: Tx, name: string, own: string): Promise<void> {
  if (name !== own && (await tx.select().from(forecasts).where(eq(forecasts.name, name))).length > 0) {
    throw nameTaken(name)
  }
}

/**
 * Typed cells as they are stored: those that get a quantity, and those that lose it. Errors: `invalid-input` beside the
 * cell.
 */
async function readCells(
  tx: Tx,
  forecast: { readonly firstOn: string; readonly lastOn: string; readonly step: Step },
  typed: ForecastEdit['cells'],
): Promise<{ set: Cell[]; cleared: Omit<Cell, 'quantity'>[] }> {
  const items = await loadMeasuredItems(tx, [...new Set(typed.map((cell) => cell.itemId))])
  const starts = new Set(periodsBetween(forecast.firstOn, forecast.lastOn, forecast.step).map((period) => period.first))
  const set: Cell[] = []
  const cleared: Omit<Cell, 'quantity'>[] = []
  for (const [index, cell] of typed.entries()) {
    const path = `cells.${index}`
    const item = items.get(cell.itemId)
    if (!item) {
      return refuseField(path, 'There is no such item.')
    }
    if (!starts.has(cell.startsOn)) {
      refuseField(path, `${cell.startsOn} is not the first day of a ${forecast.step} of this forecast.`)
    }
    const place = { item_id: cell.itemId, starts_on: cell.startsOn }
    if (cell.quantity === '') {
      cleared.push(place)
    } else {
      set.push({ ...place, quantity: quantityIn(item, cell.quantity, path) })
    }
  }
  return { set, cleared }
}
const quantityIn = (item: MeasuredItem, typed: string, path: string): string =>
  /^0+([.,]0*)?$/.test(typed) ? '0' : asNumeric(readQuantity(item, exactIfPlain(typed), item.stockUnit, path).quantity)

/**
 * Stores what methods came to. Cells that a person typed over stay, unless `over`; what was computed stands beside
 * them.
 */
export async function saveComputed(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: z.output<typeof ForecastComputed>,
): Promise<{ version: number }> {
  const before = await lockAsSeen(tx, 'forecast', id, edit.version)
  const measuredItems = await loadMeasuredItems(
    tx,
    edit.items.length > 500 ? 'all' : edit.items.map((item) => item.itemId),
  )
  const periods = periodsBetween(before.firstOn, before.lastOn, before.step)
  const cells: Cell[] = []
  const items: object[] = []
  for (const [index, item] of edit.items.entries()) {
    const measuredItem = measuredItems.get(item.itemId)
    let wrong
    if (!measuredItem) {
      wrong = 'There is no such item.'
    } else if (item.expected.length !== periods.length || item.ranges.length !== periods.length) {
      wrong = 'The forecast has other periods by now. Reload the page.'
    } else {
      wrong = null
    }
    if (wrong !== null) {
      throw new Refusal('invalid-input', wrong, { [`items.${index}`]: wrong })
    }
    roundForecasts(item.expected, measuredItem!.measure.finestStep).forEach((quantity, index) => {
      cells.push({ item_id: item.itemId, starts_on: periods[index]!.first, quantity: asNumeric(quantity) })
    })
    const result: ForecastResult = {
      method: item.method,
      parameters: item.parameters,
      reason: item.reason,
      sentence: item.sentence,
      deviation: item.deviation,
      compared: item.compared,
      ranges: item.ranges,
      madeOn: actor.today,
    }
    items.push({
      item_id: item.itemId,
      method: item.wanted?.method ?? null,
      parameters: item.wanted?.parameters ?? null,
      result,
    })
  }
  await rows(
    tx,
    sql`
      insert into forecast_items (forecast_id, item_id, method, parameters, result)
      select ${id}::int, item_id, method, parameters, result
      from jsonb_to_recordset(${JSON.stringify(items)}::jsonb) as v(
        item_id int, method text, parameters jsonb, result jsonb
      )
      on conflict (forecast_id, item_id) do update
      set method = excluded.method, parameters = excluded.parameters, result = excluded.result`,
  )
  await rows(
    tx,
    sql`
      insert into forecast_cells (forecast_id, item_id, starts_on, quantity, computed)
      select ${id}::int, item_id, starts_on, quantity, quantity
      from jsonb_to_recordset(${JSON.stringify(cells)}::jsonb) as v(
        item_id int, starts_on date, quantity numeric
      )
      on conflict (forecast_id, item_id, starts_on) do update
      set
        computed = excluded.computed,
        quantity = case
          when ${edit.over}
            or forecast_cells.quantity is not distinct from forecast_cells.computed then excluded.quantity
          else forecast_cells.quantity
        end`,
  )
  return saveDocument(tx, actor, 'forecast', before, { set: {}, after: { computed: edit.items.length } })
}

/**
 * A copy, moved by whole periods and multiplied: to try something out. What was computed stays with the one it was
 * computed for.
 */
export async function copyForecast(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: z.output<typeof CopyForecast>,
): Promise<{ id: number }> {
  const before = await lockDocument(tx, 'forecast', id)
  const firstOn = shifted(before.firstOn, before.step, edit.shift)
  const count = periodsBetween(before.firstOn, before.lastOn, before.step).length
  const periods = following(firstOn, before.step, count)
  const made = await createForecast(tx, actor, {
    name: edit.name,
    note: `Copy of “${before.name}”${edit.shift ? `, moved by ${edit.shift} ${before.step}s` : ''}${ratio(edit.percent).equals(ratio(100)) ? '' : `, ${edit.percent} %`}`,
    step: before.step,
    firstOn,
    lastOn: periods.at(-1)!.last,
  })
  const old = periodsBetween(before.firstOn, before.lastOn, before.step)
  const cells = await rows<{ itemId: number; startsOn: string; quantity: string }>(
    tx,
    sql`select item_id as "itemId", starts_on as "startsOn", quantity from forecast_cells where forecast_id = ${id}`,
  )
  const items = await loadMeasuredItems(tx, [...new Set(cells.map((cell) => cell.itemId))])
  const place = new Map(old.map((period, index) => [period.first, index]))
  const copies = cells.flatMap(({ itemId, startsOn, quantity }): Cell[] => {
    const { finestStep } = items.get(itemId)!.measure
    const exact = ratio(quantity).mul(ratio(edit.percent)).div(ratio(100))
    const steps = exact.div(finestStep).add(ratio('1/2')).floor()
    return steps.equals(ZERO)
      ? []
      : [
          {
            item_id: itemId,
            starts_on: periods[place.get(startsOn)!]!.first,
            quantity: asNumeric(finestStep.mul(steps)),
          },
        ]
  })
  await rows(
    tx,
    sql`
      insert into forecast_cells (forecast_id, item_id, starts_on, quantity)
      select ${made.id}::int, item_id, starts_on, quantity
      from jsonb_to_recordset(${JSON.stringify(copies)}::jsonb) as v(
        item_id int, starts_on date, quantity numeric
      )`,
  )
  return made
}

/** The first day of the period that many periods on. */
function shifted(first: string, step: Step, by: number): string {
  if (step !== 'month') {
    return toIso(toDay(first) + by * (step === 'week' ? 7 : 1))
  }
  const months = Number(first.slice(0, 4)) * 12 + Number(first.slice(5, 7)) - 1 + by
  return `${Math.floor(months / 12)}-${String((months % 12) + 1).padStart(2, '0')}-01`
}

function following(first: string, step: Step, count: number): Period[] {
  const periods = [periodOf(first, step)]
  while (periods.length < count) {
    periods.push(periodOf(toIso(toDay(periods.at(-1)!.first) + daysIn(periods.at(-1)!)), step))
  }
  return periods
}

/** A forecast that plans were made from goes too; those plans keep what they read. */
export async function deleteForecast(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const before = await lockDocument(tx, 'forecast', id)
  await tx.delete(forecasts).where(eq(forecasts.id, id))
  await rows(
    tx,
    sql`update plans set forecast_ids = array_remove(forecast_ids, ${id}::int) where ${id}::int = any(forecast_ids)`,
  )
  await noteChange(tx, actor, { kind: 'forecast', id }, before, null)
  return { id }
}
