import { sql } from 'drizzle-orm'
import { isIsoDate } from '~~/core/calendar/days'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { readDay } from '../catalogue/tables/columns'
import type { FileReader } from '../catalogue/tables/file-reader'
import { loadNames, type Names } from '../catalogue/tables/names'
import type { Sheet } from '../catalogue/tables/read-file'
import { suggestBins } from '../stock/detail'

type Line = Sheet['lines'][number]

interface OrderedLine {
  readonly id: number
  readonly line: number
  readonly itemId: number
  readonly code: string
  /** How else the line's item is called: by its supplier, and by codes that it carries. */
  readonly others: readonly string[]
  readonly unit: string
  readonly isOpen: boolean
  /** In the stock unit, before the file. */
  readonly received: string
}
/** A purchase order that a file may name. */
export interface OrderedGoods {
  readonly id: number
  readonly number: string
  readonly supplierId: number
  readonly siteId: number | null
  readonly lines: readonly OrderedLine[]
  version: number
}

/** A line of a file of goods received, as far as the line itself can be read. */
export interface ReadGoods {
  readonly line: Line
  readonly order: OrderedGoods
  readonly lineId: number
  readonly itemId: number
  readonly quantity: string
  readonly unit: string
  readonly binId: number
  readonly lot: string
  readonly serial: string
  readonly expiresOn: string | null
  readonly packingList: string
  readonly receivedOn: string
  readonly reason: string
}

/** What reading such a file needs to know. */
export interface GoodsReading {
  readonly file: FileReader
  readonly orders: ReadonlyMap<string, OrderedGoods>
  readonly items: ReadonlyMap<number, MeasuredItem>
  readonly bins: ReadonlyMap<string, number>
  /** Where an item goes at a site: by `site item`. */
  readonly usual: ReadonlyMap<string, number>
  readonly names: Names
  readonly today: string
}

export async function prepareGoods(tx: Tx, file: FileReader, today: string): Promise<GoodsReading> {
  const numbers = [...new Set(file.sheet.lines.map((line) => file.cell(line, 'order').toLowerCase()))]
  const orders = await loadOrders(tx, numbers)
  const bins = await rows<{ code: string; id: number }>(
    tx,
    sql`select lower(code) as code, id from places where kind = 'bin'`,
  )
  const itemIds = [...new Set(orders.flatMap((order) => order.lines.map((line) => line.itemId)))]
  return {
    file,
    today,
    orders: new Map(orders.map((order) => [order.number.toLowerCase(), order])),
    items: await loadMeasuredItems(tx, itemIds),
    bins: new Map(bins.map((bin) => [bin.code, bin.id])),
    usual: await usualBins(orders),
    names: await loadNames(tx, ['units']),
  }
}

const loadOrders = (tx: Tx, numbers: readonly string[]): Promise<OrderedGoods[]> =>
  rows<OrderedGoods>(
    tx,
    sql`
      select
        o.id, o.number, o.supplier_id as "supplierId", o.version,
        coalesce(o.site_id, (select f.id from sites f where not f.retired order by f.id limit 1)) as "siteId",
        json_agg(
          json_build_object(
            'id', l.id, 'line', l.line, 'itemId', l.item_id, 'code', i.code, 'unit', l.unit, 'isOpen',
            not l.closed_short and l.received < l.quantity, 'received', l.received::text, 'others',
            array(
              select lower(c.code)
              from item_codes c
              where c.item_id = i.id
              union all
              select lower(t.supplier_code)
              from supplier_terms t
              where t.item_id = i.id and t.supplier_id = o.supplier_id and t.supplier_code <> ''
            )
          )
          order by l.line
        ) as lines
      from purchase_orders o
      join purchase_lines l on l.order_id = o.id
      join items i on i.id = l.item_id
      where ${anyOf(sql`lower(o.number)`, numbers)}
      group by o.id`,
  )

async function usualBins(orders: readonly OrderedGoods[]): Promise<Map<string, number>> {
  const usual = new Map<string, number>()
  for (const siteId of new Set(orders.map((order) => order.siteId))) {
    const own = orders.filter((order) => order.siteId === siteId)
    const itemIds = [...new Set(own.flatMap((order) => order.lines.map((line) => line.itemId)))]
    for (const { itemId, binId } of await suggestBins(itemIds, siteId)) {
      usual.set(`${siteId} ${itemId}`, binId)
    }
  }
  return usual
}

const refuse = (detail: string): never => {
  throw new Refusal('invalid-input', detail)
}

/** One line of the file; null where it cannot be read, with each of its faults told. */
export async function readGoodsLine(reading: GoodsReading, line: Line): Promise<ReadGoods | null> {
  const { file, today } = reading
  const cell = (column: string): string => file.cell(line, column)
  const order = await file.at(line, 'order', () => findOrder(reading, cell('order')))
  if (!order) {
    return null
  }
  const column = cell('line') === '' ? 'item' : 'line'
  const ordered = await file.at(line, column, () => findLine(order, cell('line'), cell('item')))
  const unit = await file.at(line, 'unit', () => findUnit(reading, cell('unit'), ordered))
  const dayIn = (name: string): Promise<string | null> => file.at(line, name, () => dayOf(cell(name)))
  const [expiresOn, receivedOn] = [await dayIn('expires_on'), await dayIn('received_on')]
  const binId = await file.at(line, 'bin', () => findBin(reading, cell('bin'), order, ordered))
  if (cell('quantity') === '') {
    file.fault(line, 'quantity', 'The quantity is missing.')
  }
  if (!ordered || unit === null || cell('quantity') === '') {
    return null
  }
  return {
    line,
    order,
    lineId: ordered.id,
    itemId: ordered.itemId,
    quantity: cell('quantity'),
    unit,
    // What cannot be read of the rest is told; with it the line is tried all the same, for what else is wrong with it.
    binId: binId ?? usualBin(reading, order, ordered) ?? [...reading.bins.values()][0]!,
    lot: cell('lot'),
    serial: cell('serial'),
    expiresOn: expiresOn || null,
    packingList: cell('packing_list'),
    receivedOn: receivedOn || today,
    reason: cell('reason'),
  }
}

function findOrder({ orders }: GoodsReading, number: string): OrderedGoods {
  if (number === '') {
    return refuse('The number of the order is missing.')
  }
  return orders.get(number.toLowerCase()) ?? refuse(`There is no purchase order “${number}”.`)
}

/** The line of an order by its number, or by its item: the first of them that is still open. */
function findLine(order: OrderedGoods, number: string, item: string): OrderedLine {
  const called = (line: OrderedLine): boolean =>
    line.code.toLowerCase() === item.toLowerCase() || line.others.includes(item.toLowerCase())
  if (number !== '') {
    const line = order.lines.find((own) => String(own.line) === number)
    if (!line) {
      return refuse(`${order.number} has no line ${number}.`)
    }
    return item === '' || called(line)
      ? line
      : refuse(`Line ${number} of ${order.number} is ${line.code}, not “${item}”.`)
  }
  if (item === '') {
    return refuse('Give the line of the order, or the item.')
  }
  const own = order.lines.filter(called)
  return own.find((line) => line.isOpen) ?? own[0] ?? refuse(`“${item}” is not on ${order.number}.`)
}

const usualBin = ({ usual }: GoodsReading, order: OrderedGoods, { itemId }: OrderedLine): number | undefined =>
  usual.get(`${order.siteId} ${itemId}`)

/** The bin by its code, else where the item goes usually; 0 where it is not known which item that is. */
function findBin(reading: GoodsReading, code: string, order: OrderedGoods, ordered: OrderedLine | null): number {
  if (code !== '') {
    return reading.bins.get(code.toLowerCase()) ?? refuse(`There is no bin “${code}”.`)
  }
  return ordered ? (usualBin(reading, order, ordered) ?? refuse('The bin is missing.')) : 0
}

function findUnit({ names }: GoodsReading, word: string, ordered: OrderedLine | null): string {
  if (word === '') {
    return ordered?.unit ?? ''
  }
  return names.unitOf(word) ?? refuse(`There is no unit “${word}”.`)
}

const dayOf = (text: string): string => (text === '' || isIsoDate(text) ? text : readDay(text))
