import { toMinor } from '~~/core/money'
import { sql } from 'drizzle-orm'
import { nearestEven, ratio } from '~~/core/units/exact'
import { typedQuantity } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { CellFault } from '../catalogue/tables/cell-fault'
import { plainNumber, readDay } from '../catalogue/tables/columns'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import { loadNames, type Names } from '../catalogue/tables/names'
import type { Sheet } from '../catalogue/tables/read-file'
import type { Taken } from '../catalogue/tables/take-in'

interface Sale {
  readonly item_id: number
  readonly customer_id: number | null
  readonly site_id: number | null
  readonly sold_on: string
  readonly quantity: string
  readonly value: string
  readonly cost: string | null
}

interface Reading {
  readonly file: FileReader
  readonly names: Names
  readonly items: ReadonlyMap<number, MeasuredItem>
  readonly decimalSign: OwnHow['decimalSign']
  readonly today: string
}

/**
 * Past sales from a file, a line an item and day: all of its lines, or none and every fault. What is in the history
 * already is refused, so that no file counts twice.
 */
export async function takePastSales(
  tx: Tx,
  actor: Actor,
  file: FileReader,
  { batchId, decimalSign, watch }: OwnHow,
): Promise<Taken> {
  requireFor(actor, 'demand', 'Files of sales')
  if (file.faults.length > 0) {
    return file.answer(0)
  }
  const names = await loadNames(tx, ['items', 'customers', 'sites', 'units'])
  const items = await loadMeasuredItems(tx, [
    ...new Set(file.sheet.lines.flatMap((line) => names.idOf('items', file.cell(line, 'item')) ?? [])),
  ])
  const known = await loadKnown(tx)
  const sales: Sale[] = []
  for (const [index, line] of file.sheet.lines.entries()) {
    if (watch && index % 500 === 0) {
      await watch.report(Math.floor((index * 100) / file.sheet.lines.length))
    }
    const sale = await readSale({ file, names, items, decimalSign, today: actor.today }, line)
    if (sale && known.has(keyOf(sale))) {
      file.fault(
        line,
        'item',
        'This line is in the history already. Take the earlier file back first, or leave the line out.',
      )
    }
    sales.push(...(sale ? [sale] : []))
  }
  if (file.faults.length === 0) {
    for (let index = 0; index < sales.length; index += 20_000) {
      await rows(
        tx,
        sql`
          insert into past_sales (item_id, customer_id, site_id, sold_on, quantity, value, cost, batch_id)
          select item_id, customer_id, site_id, sold_on, quantity, value, cost, ${batchId}::int
          from jsonb_to_recordset(${JSON.stringify(sales.slice(index, index + 20_000))}::jsonb) as v(
            item_id int, customer_id int, site_id int, sold_on date, quantity numeric, value bigint, cost bigint
          )`,
      )
    }
  }
  return file.answer(sales.length)
}

/** What tells one sale of the history from another. */
const keyOf = (sale: Sale): string =>
  [sale.item_id, sale.sold_on, sale.customer_id ?? 0, sale.site_id ?? 0, sale.quantity, sale.value].join('|')

async function loadKnown(tx: Tx): Promise<ReadonlySet<string>> {
  const found = await rows<{ key: string }>(
    tx,
    sql`
      select concat_ws(
        '|', item_id, sold_on, coalesce(customer_id, 0), coalesce(site_id, 0), trim_scale(quantity), value
      ) as key
      from past_sales`,
  )
  return new Set(found.map((row) => row.key))
}

/** One line of the file; null where something of it is missing or wrong, with its faults told. */
async function readSale(reading: Reading, line: Sheet['lines'][number]): Promise<Sale | null> {
  const { file, names, decimalSign } = reading
  const cell = (column: string): string => file.cell(line, column)
  const at = <T>(column: string, read: () => T): Promise<T | null> => file.at(line, column, read)
  const ifGiven = async <T>(column: string, read: () => T): Promise<T | null> =>
    cell(column) === '' ? null : at(column, read)
  const itemId = await at('item', () => idOf(names, 'items', cell('item')))
  const soldOn = await at('sold_on', () => dayOf(cell('sold_on'), reading.today))
  const customerId = await ifGiven('customer', () => idOf(names, 'customers', cell('customer')))
  const siteId = await ifGiven('site', () => idOf(names, 'sites', cell('site')))
  const item = itemId === null ? undefined : reading.items.get(itemId)
  const unit = cell('unit') === '' ? item?.stockUnit : await at('unit', () => unitOf(names, cell('unit')))
  const quantity =
    item && unit
      ? await at('quantity', () =>
          asNumeric(readQuantity(item, typedQuantity(cell('quantity')), unit, 'quantity').quantity),
        )
      : null
  const value = await at('value', () => minorOf(cell('value') || '0', decimalSign))
  const cost = await ifGiven('cost', () => minorOf(cell('cost'), decimalSign))
  if (itemId === null || soldOn === null || quantity === null || value === null) {
    return null
  }
  return {
    item_id: itemId,
    customer_id: customerId,
    site_id: siteId,
    sold_on: soldOn,
    quantity,
    value: value.toString(),
    cost: cost?.toString() ?? null,
  }
}

function idOf(names: Names, kind: 'items' | 'customers' | 'sites', code: string): number {
  const id = names.idOf(kind, code)
  if (id === undefined) {
    const word = names.wordFor(kind)
    throw new Refusal('invalid-input', code === '' ? `The ${word} is missing.` : `There is no ${word} “${code}”.`)
  }
  return id
}

function unitOf(names: Names, text: string): string {
  const code = names.unitOf(text)
  if (code === undefined) {
    throw new Refusal('invalid-input', `There is no unit “${text}”.`)
  }
  return code
}

export async function takePastSalesBack(tx: Tx, _: Actor, batchId: number): Promise<void> {
  await rows(tx, sql`delete from past_sales where batch_id = ${batchId}`)
}

function dayOf(text: string, today: string): string {
  const day = asRefusal(() => readDay(text))
  if (day > today) {
    throw new Refusal('invalid-input', `${day} is not over yet. What is ordered for later is a sales order.`)
  }
  return day
}
/** What a cell is not, as a refusal like the others. */
export function asRefusal<T>(read: () => T): T {
  try {
    return read()
  } catch (error) {
    if (error instanceof CellFault) {
      throw new Refusal('invalid-input', error.message)
    }
    throw error
  }
}
/** Money as a spreadsheet writes it, in minor units. */
function minorOf(text: string, decimalSign: '.' | ','): bigint {
  const plain = plainNumber(text, decimalSign)
  if (!/^\d+(\.\d+)?$/.test(plain)) {
    throw new Refusal('invalid-input', `“${text}” is no amount. Write for example 12.50.`)
  }
  return nearestEven(toMinor(ratio(plain)))
}
