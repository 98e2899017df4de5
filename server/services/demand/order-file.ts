import { sql } from 'drizzle-orm'
import { z } from 'zod'
import { ratio } from '~~/core/units/exact'
import { type Given } from '~~/core/units/quantity'
import { groupBy } from '~~/core/group-by'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { SalesOrderEdit } from '~~/shared/demand/requests'
import { loadMeasuredItems, readQuantity } from '../catalogue/measured-items'
import { plainNumber, readDay } from '../catalogue/tables/columns'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import { loadNames } from '../catalogue/tables/names'
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

/**
 * Sales orders from a file, a line an order line: lines of one number are one order; without numbers, those of one customer and due date.
 * A price that is left out is that of the price rules. All orders, or none and every fault.
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
  const names = await loadNames(tx, ['items', 'customers', 'sites', 'units'])
  const known = new Map(
    (
      await rows<{ code: string; itemId: number; unit: string | null }>(
        tx,
        sql`
          select lower(code) as code, min(item_id) as "itemId", min(unit) as unit
          from item_codes
          group by 1
          having count(distinct item_id) = 1`,
      )
    ).map((row) => [row.code, row]),
  )
  const itemOf = (code: string): number | undefined =>
    names.idOf('items', code) ?? known.get(code.toLowerCase())?.itemId
  const items = await loadMeasuredItems(tx, [
    ...new Set(file.sheet.lines.flatMap((line) => itemOf(file.cell(line, 'item')) ?? [])),
  ])
  const cell = (line: Line, column: string): string => file.cell(line, column)
  const refuse = (detail: string): never => {
    throw new Refusal('invalid-input', detail)
  }
  const orders = groupBy(
    file.sheet.lines,
    (line) => cell(line, 'number') || `${cell(line, 'customer')} ${cell(line, 'due_on')}`,
  )
  let done = 0
  for (const [, lines] of orders) {
    await watch?.report(Math.floor((done++ * 100) / orders.size))
    const head = lines[0]!
    const customerId = await file.at(
      head,
      'customer',
      () =>
        names.idOf('customers', cell(head, 'customer')) ??
        refuse(
          cell(head, 'customer') === ''
            ? 'The customer is missing.'
            : `There is no customer “${cell(head, 'customer')}”.`,
        ),
    )
    const dueOn = await file.at(head, 'due_on', () =>
      cell(head, 'due_on') === ''
        ? refuse('The day that it is due is missing.')
        : asRefusal(() => readDay(cell(head, 'due_on'))),
    )
    const orderedOn =
      cell(head, 'ordered_on') === ''
        ? actor.today
        : await file.at(head, 'ordered_on', () => asRefusal(() => readDay(cell(head, 'ordered_on'))))
    const siteId =
      cell(head, 'site') === ''
        ? null
        : await file.at(
            head,
            'site',
            () => names.idOf('sites', cell(head, 'site')) ?? refuse(`There is no site “${cell(head, 'site')}”.`),
          )
    if (!/^-?\d{0,4}$/.test(cell(head, 'priority'))) {
      file.fault(head, 'priority', `“${cell(head, 'priority')}” is no whole number.`)
    }
    for (const line of lines.slice(1)) {
      for (const column of ['customer', 'due_on']) {
        if (cell(line, column) !== '' && cell(line, column) !== cell(head, column)) {
          file.fault(
            line,
            column,
            `The order says ${cell(head, column)} in line ${head.line}. Lines of one order have one ${column === 'customer' ? 'customer' : 'day that it is due'}.`,
          )
        }
      }
    }
    const read: { line: Line; edit: Given<SalesOrderEdit['lines'][number]> }[] = []
    for (const line of lines) {
      const itemId = itemOf(cell(line, 'item'))
      const item = itemId === undefined ? undefined : items.get(itemId)
      if (!item) {
        file.fault(
          line,
          'item',
          cell(line, 'item') === '' ? 'The item is missing.' : `There is no item “${cell(line, 'item')}”.`,
        )
        continue
      }
      const unit =
        cell(line, 'unit') === ''
          ? (known.get(cell(line, 'item').toLowerCase())?.unit ?? item.sellingUnit)
          : names.unitOf(cell(line, 'unit'))
      if (unit === undefined) {
        file.fault(line, 'unit', `There is no unit “${cell(line, 'unit')}”.`)
        continue
      }
      const text = cell(line, 'quantity')
      const quantity = await file.at(line, 'quantity', () => readQuantity(item, text, unit, 'quantity'))
      const price = cell(line, 'price') === '' ? null : plainNumber(cell(line, 'price'), decimalSign)
      if (price !== null && !/^\d+(\.\d{1,6})?$/.test(price)) {
        file.fault(line, 'price', `“${cell(line, 'price')}” is no price. Write for example 12.50.`)
        continue
      }
      if (quantity !== null && customerId !== null) {
        read.push({
          line,
          edit: {
            id: null,
            itemId: item.id,
            quantity: ratio(quantity.entered),
            unit: quantity.unit,
            price:
              price ??
              (await priceFor(tx, item, {
                customerId,
                unit: quantity.unit,
                quantity: quantity.entered,
                day: orderedOn ?? actor.today,
              })),
          },
        })
      }
    }
    if (customerId === null || dueOn === null || orderedOn === null || read.length < lines.length) {
      continue
    }
    const numbered = /^[A-Za-z]+-\d+$/.test(cell(head, 'number'))
      ? { number: cell(head, 'number') }
      : { outsideRef: cell(head, 'number') || null }
    try {
      await tx.transaction((inner) =>
        createOrder(inner, actor, {
          ...numbered,
          customerId,
          orderedOn,
          dueOn,
          siteId,
          priority: Number(cell(head, 'priority') || 0),
          note: cell(head, 'note'),
          batchId,
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
  return file.answer(orders.size)
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
