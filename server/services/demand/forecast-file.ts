import { sql } from 'drizzle-orm'
import { periodOf, STEPS, type Step } from '~~/core/calendar/periods'
import { groupBy } from '~~/core/group-by'
import { typedQuantity } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { plainNumber, readDay } from '../catalogue/tables/columns'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import { loadNames, type Names } from '../catalogue/tables/names'
import type { Sheet } from '../catalogue/tables/read-file'
import type { Taken } from '../catalogue/tables/take-in'
import { changeForecast, createForecast } from './forecasts'
import { asRefusal } from './past-sales'
import { noteChange } from '../../documents'

type Line = Sheet['lines'][number]
interface Entry {
  readonly line: Line
  readonly column: string
  readonly forecast: string
  readonly itemId: number
  readonly day: string
  readonly quantity: string
}
interface Known {
  id: number
  name: string
  step: Step
  firstOn: string
  lastOn: string
  version: number
}

/**
 * Forecasts from a file: a line an item and period, or a line an item with a column a period (headed by its first day).
 * All of it, or none and every fault.
 *
 * A forecast that is not there is begun, from the first period to the last; without a name it is called as the file is.
 */
export async function takeForecast(
  tx: Tx,
  actor: Actor,
  file: FileReader,
  { batchId, label, decimalSign }: OwnHow,
): Promise<Taken> {
  requireFor(actor, 'demand', 'Files of forecasts')
  const across = columnsOfPeriods(file)
  if (file.faults.length > 0) {
    return file.answer(0)
  }
  const names = await loadNames(tx, ['items', 'units'])
  const items = await loadMeasuredItems(tx, [
    ...new Set(file.sheet.lines.flatMap((line) => names.idOf('items', file.cell(line, 'item')) ?? [])),
  ])
  const entries: Entry[] = []
  for (const line of file.sheet.lines) {
    const found = itemAndUnit(file, line, names, items)
    if (found) {
      const forecast = file.cell(line, 'forecast') || label.replace(/\.\w+$/, '').slice(0, 80)
      entries.push(...(await readCells(file, line, { ...found, forecast, across, decimalSign })))
    }
  }
  let made = 0
  for (const [name, own] of groupBy(entries, (entry) => entry.forecast)) {
    made += await takeOne(tx, actor, file, { name, own, batchId })
  }
  return file.answer(made)
}

/** The headings that are first days of periods; none where a column names the period. Told where it is neither. */
function columnsOfPeriods(file: FileReader): string[] {
  if (file.mapping.period && file.mapping.quantity) {
    return []
  }
  const across = file.sheet.headings.filter((heading) => /^\d{4}-\d{2}-\d{2}$|^\d{1,2}\.\d{1,2}\.\d{4}$/.test(heading))
  if (across.length === 0) {
    file.fault(
      null,
      'period',
      'Name a column “period” and one “quantity”, or head a column for each period with its first day, for example 2026-10-01.',
    )
  }
  return across
}

function itemAndUnit(
  file: FileReader,
  line: Line,
  names: Names,
  items: ReadonlyMap<number, MeasuredItem>,
): { item: MeasuredItem; unit: string } | null {
  const code = file.cell(line, 'item')
  const itemId = names.idOf('items', code)
  const item = itemId === undefined ? undefined : items.get(itemId)
  if (!item) {
    file.fault(line, 'item', code === '' ? 'The item is missing.' : `There is no item “${code}”.`)
    return null
  }
  const unit = file.cell(line, 'unit') === '' ? item.stockUnit : names.unitOf(file.cell(line, 'unit'))
  if (unit === undefined) {
    file.fault(line, 'unit', `There is no unit “${file.cell(line, 'unit')}”.`)
    return null
  }
  return { item, unit }
}

/** The figures of a line: one, or one a column of a period. */
async function readCells(
  file: FileReader,
  line: Line,
  about: { item: MeasuredItem; unit: string; forecast: string; across: readonly string[]; decimalSign: '.' | ',' },
): Promise<Entry[]> {
  const { item, unit, across } = about
  const cells =
    across.length > 0
      ? across.map((heading) => ({ column: heading, period: heading, text: (line.cells[heading] ?? '').trim() }))
      : [{ column: 'quantity', period: file.cell(line, 'period'), text: file.cell(line, 'quantity') }]
  const entries: Entry[] = []
  for (const { column, period, text } of cells.filter((cell) => cell.text !== '')) {
    const day = await file.at(line, across.length > 0 ? column : 'period', () =>
      asRefusal(() => readDay(/^\d{4}-\d{2}$/.test(period) ? `${period}-01` : period)),
    )
    const plain = plainNumber(text, about.decimalSign)
    const quantity = await file.at(line, column, () =>
      /^0+(\.0*)?$/.test(plain) ? '0' : asNumeric(readQuantity(item, typedQuantity(text), unit, column).quantity),
    )
    if (day !== null && quantity !== null) {
      entries.push({ line, column, forecast: about.forecast, itemId: item.id, day, quantity })
    }
  }
  return entries
}

/** The step of a forecast that a file begins: the longest that begins on each of its days. */
function stepOf(days: readonly string[]): Step {
  if (days.every((day) => day.endsWith('-01'))) {
    return 'month'
  }
  return [...STEPS].reverse().find((step) => days.every((day) => periodOf(day, step).first === day)) ?? 'day'
}

async function takeOne(
  tx: Tx,
  actor: Actor,
  file: FileReader,
  { name, own, batchId }: { name: string; own: readonly Entry[]; batchId: number | null },
): Promise<number> {
  const [known] = await rows<Known>(
    tx,
    sql`select id, name, step, first_on as "firstOn", last_on as "lastOn", version from forecasts where name = ${name}`,
  )
  const days = own.map((entry) => entry.day).sort()
  const step = known?.step ?? stepOf(days)
  for (const entry of own) {
    if (periodOf(entry.day, step).first !== entry.day) {
      file.fault(
        entry.line,
        entry.column,
        `${entry.day} is not the first day of a ${step}, and “${name}” goes by ${step}s.`,
      )
    } else if (known && (entry.day < known.firstOn || entry.day > known.lastOn)) {
      file.fault(entry.line, entry.column, `“${name}” goes from ${known.firstOn} to ${known.lastOn}.`)
    }
  }
  const twice = [...groupBy(own, (entry) => `${entry.itemId} ${entry.day}`).values()].filter((list) => list.length > 1)
  for (const [, second] of twice) {
    file.fault(second!.line, second!.column, 'This item and period are in the file twice.')
  }
  if (file.faults.length > 0) {
    return 0
  }
  const made = known ?? {
    ...(await createForecast(tx, actor, {
      name,
      note: '',
      step,
      firstOn: days[0]!,
      lastOn: periodOf(days.at(-1)!, step).last,
    })),
    version: 1,
  }
  const before = known
    ? await rows<{ itemId: number; startsOn: string; quantity: string }>(
        tx,
        sql`
          select item_id as "itemId", starts_on as "startsOn", quantity
          from forecast_cells
          where forecast_id = ${known.id}`,
      )
    : null
  await changeForecast(tx, actor, made.id, {
    version: made.version,
    without: [],
    cells: own.map((entry) => ({ itemId: entry.itemId, startsOn: entry.day, quantity: entry.quantity })),
  })
  if (batchId !== null) {
    await noteChange(tx, actor, { kind: 'forecast file', id: batchId }, { forecastId: made.id, cells: before }, null)
  }
  return own.length
}

/** A forecast that the file began goes; one that was there gets back what it had where the file wrote. */
export async function takeForecastBack(tx: Tx, actor: Actor, batchId: number): Promise<void> {
  const notes = await rows<{
    before: { forecastId: number; cells: { itemId: number; startsOn: string; quantity: string }[] | null }
  }>(tx, sql`select before from changes where entity = 'forecast file' and entity_id = ${String(batchId)} order by id`)
  if (notes.length === 0) {
    throw new Refusal('not-now', 'It is not known any more what this file changed.')
  }
  for (const {
    before: { forecastId, cells },
  } of notes) {
    if (cells === null) {
      await rows(tx, sql`delete from forecasts where id = ${forecastId}`)
      continue
    }
    await rows(tx, sql`delete from forecast_cells where forecast_id = ${forecastId} and computed is null`)
    await rows(
      tx,
      sql`
        insert into forecast_cells (forecast_id, item_id, starts_on, quantity)
        select ${forecastId}::int, "itemId", "startsOn", quantity
        from jsonb_to_recordset(${JSON.stringify(cells)}::jsonb) as v(
          "itemId" int, "startsOn" date, quantity numeric
        )
        on conflict (forecast_id, item_id, starts_on) do update
        set quantity = excluded.quantity`,
    )
    await rows(tx, sql`update forecasts set version = version + 1 where id = ${forecastId}`)
    await noteChange(tx, actor, { kind: 'forecast', id: forecastId }, null, { takenBack: batchId })
  }
}
