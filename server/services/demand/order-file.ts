import { sql } from 'drizzle-orm'
import * as z from 'zod'
import { ratio } from '~~/core/units/exact'
import { type Given, typedQuantity } from '~~/core/units/quantity'
import { groupBy } from '~~/core/group-by'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { SalesOrderEdit } from '~~/shared/demand/requests'
import { loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { plainNumber, readDay } from '../catalogue/tables/columns'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import { loadNames, type Names } from '../catalogue/tables/names'
import type { Sheet } from '../catalogue/tables/read-file'
import type { Taken } from '../catalogue/tables/take-in'
import { createOrder } from './orders'
import { asRefusal } from './past-sales'
import { priceFor } from './price-for'

type Line = Sheet['lines'][number]
const COLUMN_OF: Readonly<Record<string, string>> = {
  customerId: 'customer',
  dueOn: 'due_on',
  number: 'number',
  siteId: 'site',
  itemId: 'item',
  quantity: 'quantity',
  unit: 'unit',
  price: 'price',
}

/** What reading the lines of a file of orders needs to know. */
interface Reading {
  readonly file: FileReader
  readonly names: Names
  readonly items: ReadonlyMap<number, MeasuredItem>
  /** Items by codes of theirs that no other item has, with the unit that the code stands for. */
  readonly codes: ReadonlyMap<string, { readonly itemId: number; readonly unit: string | null }>
  readonly decimalSign: OwnHow['decimalSign']
  readonly today: string
}

interface Head {
  readonly customerId: number | null
  readonly dueOn: string | null
  readonly orderedOn: string | null
  readonly siteId: number | null
}

interface ReadLine {
  readonly line: Line
  readonly edit: Given<SalesOrderEdit['lines'][number]>
}

/**
 * Sales orders from a file, a line an order line: lines of one number are one order; without numbers, those of one
 * customer and due date. A price that is left out is that of the price rules. All orders, or none and every fault.
 */
export async function takeOrders(
  tx: Tx,
  actor: Actor,
  file: FileReader,
  { batchId, decimalSign, watch }: OwnHow,
): Promise<Taken> {
  requireFor(actor, 'demand', 'Files of sales orders')
  if (file.faults.length > 0) {
    return file.answer(0)
  }
  const reading = await prepareReading(tx, file, decimalSign, actor.today)
  const orders = groupBy(
    file.sheet.lines,
    (line) => file.cell(line, 'number') || `${file.cell(line, 'customer')} ${file.cell(line, 'due_on')}`,
  )
  let done = 0
  for (const [, lines] of orders) {
    await watch?.report(Math.floor((done++ * 100) / orders.size))
    const head = await readHead(reading, lines)
    const read: ReadLine[] = []
    for (const line of lines) {
      read.push(...(await readLine(tx, reading, head, line)))
    }
    if (read.length === lines.length) {
      await createRead(tx, actor, { file, head, batchId }, read)
    }
  }
  return file.answer(orders.size)
}

async function prepareReading(
  tx: Tx,
  file: FileReader,
  decimalSign: OwnHow['decimalSign'],
  today: string,
): Promise<Reading> {
  const names = await loadNames(tx, ['items', 'customers', 'sites', 'units'])
  const found = await rows<{ code: string; itemId: number; unit: string | null }>(
    tx,
    sql`
      select lower(code) as code, min(item_id) as "itemId", min(unit) as unit
      from item_codes
      group by 1
      having count(distinct item_id) = 1`,
  )
  const codes = new Map(found.map((row) => [row.code, row]))
  const asked = file.sheet.lines.flatMap((line) => itemOf({ names, codes }, file.cell(line, 'item')) ?? [])
  return { file, names, codes, items: await loadMeasuredItems(tx, [...new Set(asked)]), decimalSign, today }
}

const itemOf = ({ names, codes }: Pick<Reading, 'names' | 'codes'>, code: string): number | undefined =>
  names.idOf('items', code) ?? codes.get(code.toLowerCase())?.itemId

/** What the first line says of the order; other lines may leave it out, but not say something else. */
async function readHead({ file, names, today }: Reading, lines: readonly Line[]): Promise<Head> {
  const line = lines[0]!
  const cell = (column: string): string => file.cell(line, column)
  const customerId = await file.at(
    line,
    'customer',
    () =>
      names.idOf('customers', cell('customer')) ??
      refuse(cell('customer') === '' ? 'The customer is missing.' : `There is no customer “${cell('customer')}”.`),
  )
  const dueOn = await file.at(line, 'due_on', () =>
    cell('due_on') === '' ? refuse('The day that it is due is missing.') : asRefusal(() => readDay(cell('due_on'))),
  )
  const orderedOn =
    cell('ordered_on') === ''
      ? today
      : await file.at(line, 'ordered_on', () => asRefusal(() => readDay(cell('ordered_on'))))
  const siteId =
    cell('site') === ''
      ? null
      : await file.at(
          line,
          'site',
          () => names.idOf('sites', cell('site')) ?? refuse(`There is no site “${cell('site')}”.`),
        )
  if (!/^-?\d{0,4}$/.test(cell('priority'))) {
    file.fault(line, 'priority', `“${cell('priority')}” is no whole number.`)
  }
  requireOneHead(file, lines)
  return { customerId, dueOn, orderedOn, siteId }
}

const refuse = (detail: string): never => {
  throw new Refusal('invalid-input', detail)
}

function requireOneHead(file: FileReader, [head, ...others]: readonly Line[]): void {
  for (const line of others) {
    for (const [column, word] of [
      ['customer', 'customer'],
      ['due_on', 'day that it is due'],
    ] as const) {
      const [own, first] = [file.cell(line, column), file.cell(head!, column)]
      if (own !== '' && own !== first) {
        file.fault(line, column, `The order says ${first} in line ${head!.line}. Lines of one order have one ${word}.`)
      }
    }
  }
}

/** One line of an order, or nothing and its fault. */
async function readLine(tx: Tx, reading: Reading, head: Head, line: Line): Promise<ReadLine[]> {
  const { file } = reading
  const cell = (column: string): string => file.cell(line, column)
  const item = reading.items.get(itemOf(reading, cell('item')) ?? NaN)
  if (!item) {
    file.fault(line, 'item', cell('item') === '' ? 'The item is missing.' : `There is no item “${cell('item')}”.`)
    return []
  }
  const ownUnit = reading.codes.get(cell('item').toLowerCase())?.unit ?? item.sellingUnit
  const unit = cell('unit') === '' ? ownUnit : reading.names.unitOf(cell('unit'))
  if (unit === undefined) {
    file.fault(line, 'unit', `There is no unit “${cell('unit')}”.`)
    return []
  }
  const quantity = await file.at(line, 'quantity', () =>
    readQuantity(item, typedQuantity(cell('quantity')), unit, 'quantity'),
  )
  const price = cell('price') === '' ? null : plainNumber(cell('price'), reading.decimalSign)
  if (price !== null && !/^\d+(\.\d{1,6})?$/.test(price)) {
    file.fault(line, 'price', `“${cell('price')}” is no price. Write for example 12.50.`)
    return []
  }
  if (quantity === null || head.customerId === null) {
    return []
  }
  const asked = {
    customerId: head.customerId,
    unit: quantity.unit,
    quantity: quantity.entered,
    day: head.orderedOn ?? reading.today,
  }
  return [
    {
      line,
      edit: {
        id: null,
        itemId: item.id,
        quantity: ratio(quantity.entered),
        unit: quantity.unit,
        price: price ?? (await priceFor(tx, item, asked)),
      },
    },
  ]
}

/** Writes the order; what is refused of it becomes faults of the lines that say so. */
async function createRead(
  tx: Tx,
  actor: Actor,
  order: { readonly file: FileReader; readonly head: Head; readonly batchId: number | null },
  read: readonly ReadLine[],
): Promise<void> {
  const { file, head, batchId } = order
  const { customerId, dueOn, orderedOn, siteId } = head
  if (customerId === null || dueOn === null || orderedOn === null) {
    return
  }
  const cell = (column: string): string => file.cell(read[0]!.line, column)
  const numbered = /^[A-Za-z]+-\d+$/.test(cell('number'))
    ? { number: cell('number') }
    : { outsideRef: cell('number') || null }
  try {
    await tx.transaction((inner) =>
      createOrder(inner, actor, {
        ...numbered,
        customerId,
        orderedOn,
        dueOn,
        siteId,
        priority: Number(cell('priority') || 0),
        note: cell('note'),
        batchId,
        // Whoever may sell outside the allowed prices looks at the file before it is taken in.
        confirmed: true,
        lines: read.map((entry) => entry.edit),
      }),
    )
  } catch (error) {
    if (!(error instanceof Refusal)) {
      throw error
    }
    const details = Object.entries(error.fields ?? { number: error.detail })
    for (const [path, detail] of details) {
      const [, index, field] = /^lines\.(\d+)\.(\w+)$/.exec(path) ?? [null, '0', path]
      file.fault(read[Number(index)]!.line, COLUMN_OF[field!] ?? 'number', detail)
    }
  }
}

/** Orders that a file brought go again, as long as nothing has been done for any of them. */
export async function takeOrdersBack(tx: Tx, _: Actor, batchId: number): Promise<void> {
  const [held] = await rows<{ number: string }>(
    tx,
    sql`
      select number
      from sales_orders o
      where batch_id = ${batchId}
        and (
          status <> 'open'
            or exists (
              select 1
              from sales_lines l
              where l.order_id = o.id
                and (
                  l.shipped > 0
                    or exists (select 1 from allocations a where a.sales_line_id = l.id)
                    or exists (select 1 from builds b where b.sales_line_id = l.id)
                )
            )
        )
      limit 1`,
  )
  if (held) {
    throw new Refusal(
      'not-now',
      `Something was done for ${held.number} already. Free what is allocated for it first, or leave these orders.`,
    )
  }
  await rows(
    tx,
    sql`delete from sales_lines where order_id in (select id from sales_orders where batch_id = ${batchId})`,
  )
  await rows(tx, sql`delete from sales_orders where batch_id = ${batchId}`)
}

const JsonOrders = z.array(z.looseObject({ lines: z.array(z.looseObject({})) }))
/** Orders as JSON (a list, each with its `lines`), written out a line an order line. */
export function sheetOfOrders(text: string): Sheet {
  const read = (() => {
    try {
      return JsonOrders.safeParse(JSON.parse(text))
    } catch {
      return null
    }
  })()
  if (!read?.success) {
    throw new Refusal(
      'invalid-input',
      'The file is no list of orders. Write [{ "number": …, "customer": …, "due_on": …, "lines": [{ "item": …, "quantity": … }] }].',
    )
  }
  const plain = (value: unknown): string =>
    value === null || value === undefined ? '' : String(value as string | number)
  const lines = read.data.flatMap(({ lines: own, ...head }, index) =>
    own.map((line) =>
      Object.fromEntries(
        Object.entries({ ...head, number: head.number ?? `#${index + 1}`, ...line }).map(([key, value]) => [
          key,
          plain(value),
        ]),
      ),
    ),
  )
  return {
    headings: [...new Set(lines.flatMap((line) => Object.keys(line)))],
    lines: lines.map((cells, index) => ({ line: index + 1, cells })),
  }
}
