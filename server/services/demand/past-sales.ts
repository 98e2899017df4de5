import { sql } from 'drizzle-orm'
import { nearestEven, ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { asNumeric, loadMeasuredItems, readQuantity } from '../catalogue/measured-items'
import { CellFault } from '../catalogue/tables/cell-fault'
import { plainNumber, readDay } from '../catalogue/tables/columns'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import { loadNames } from '../catalogue/tables/names'
import type { Taken } from '../catalogue/tables/take-in'

/** Past sales from a file, a line an item and day: all of its lines, or none and every fault. What is in the history already is refused, so that no file counts twice. */
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
  const idOf = (kind: 'items' | 'customers' | 'sites', code: string): number => {
    const id = names.idOf(kind, code)
    if (id === undefined) {
      throw new Refusal(
        'invalid-input',
        code === '' ? `The ${names.wordFor(kind)} is missing.` : `There is no ${names.wordFor(kind)} “${code}”.`,
      )
    }
    return id
  }
  const items = await loadMeasuredItems(tx, [
    ...new Set(file.sheet.lines.flatMap((line) => names.idOf('items', file.cell(line, 'item')) ?? [])),
  ])
  const known = new Set(
    (
      await rows<{ key: string }>(
        tx,
        sql`
          select concat_ws(
            '|', item_id, sold_on, coalesce(customer_id, 0), coalesce(site_id, 0), trim_scale(quantity), value
          ) as key
          from past_sales`,
      )
    ).map((row) => row.key),
  )
  const sales: object[] = []
  for (const [index, line] of file.sheet.lines.entries()) {
    if (watch && index % 500 === 0) {
      await watch.report(Math.floor((index * 100) / file.sheet.lines.length))
    }
    const cell = (column: string): string => file.cell(line, column)
    const itemId = await file.at(line, 'item', () => idOf('items', cell('item')))
    const soldOn = await file.at(line, 'sold_on', () => dayOf(cell('sold_on'), actor.today))
    const customerId =
      cell('customer') === '' ? null : await file.at(line, 'customer', () => idOf('customers', cell('customer')))
    const siteId = cell('site') === '' ? null : await file.at(line, 'site', () => idOf('sites', cell('site')))
    const item = itemId === null ? undefined : items.get(itemId)
    const unit =
      cell('unit') === ''
        ? item?.stockUnit
        : await file.at(line, 'unit', () => {
            const code = names.unitOf(cell('unit'))
            if (code === undefined) {
              throw new Refusal('invalid-input', `There is no unit “${cell('unit')}”.`)
            }
            return code
          })
    const quantity =
      item && unit
        ? await file.at(line, 'quantity', () =>
            asNumeric(readQuantity(item, cell('quantity'), unit, 'quantity').quantity),
          )
        : null
    const value = await file.at(line, 'value', () => minorOf(cell('value') || '0', decimalSign))
    const cost = cell('cost') === '' ? null : await file.at(line, 'cost', () => minorOf(cell('cost'), decimalSign))
    if (itemId === null || soldOn === null || quantity === null || value === null) {
      continue
    }
    if (known.has([itemId, soldOn, customerId ?? 0, siteId ?? 0, quantity, value].join('|'))) {
      file.fault(
        line,
        'item',
        'This line is in the history already. Take the earlier file back first, or leave the line out.',
      )
    }
    sales.push({
      item_id: itemId,
      customer_id: customerId,
      site_id: siteId,
      sold_on: soldOn,
      quantity,
      value: value.toString(),
      cost: cost?.toString() ?? null,
    })
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
  return nearestEven(ratio(plain).mul(ratio('100')))
}
