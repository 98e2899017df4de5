import { sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { ratio, type Ratio } from '~~/core/units/exact'
import { printAmount, typedQuantity } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { isLive } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { reverse } from '../../ledger/reverse'
import { requireFor, type FileReader, type OwnHow } from '../catalogue/tables/file-reader'
import type { Taken } from '../catalogue/tables/take-in'
import { receive, type ReceiveDraft, type ReceivedLine } from './goods-in'
import { prepareGoods, readGoodsLine, type GoodsReading, type OrderedGoods, type ReadGoods } from './goods-lines'

const COLUMN_OF: Readonly<Record<string, string>> = {
  lineId: 'line',
  quantity: 'quantity',
  unit: 'unit',
  binId: 'bin',
  lot: 'lot',
  expiresOn: 'expires_on',
  label: 'serial',
  reason: 'reason',
  packingList: 'packing_list',
  effectiveOn: 'received_on',
}

/** Lines that came together: of one order, by one packing list, on one day. */
interface Delivery {
  readonly order: OrderedGoods
  readonly packingList: string
  readonly receivedOn: string
  readonly goods: readonly ReadGoods[]
}

/**
 * Goods received from a file, a line a line of an order or a lot of it: all of them, or none and every fault. What came
 * for one order by one packing list on one day is one receipt; all receipts of a file are taken back as one.
 */
export async function takeReceipts(tx: Tx, actor: Actor, file: FileReader, { batchId, watch }: OwnHow): Promise<Taken> {
  requireFor(actor, 'receive', 'Files of goods received')
  if (file.faults.length > 0) {
    return file.answer(0)
  }
  const reading = await prepareGoods(tx, file, actor.today)
  const read: ReadGoods[] = []
  for (const line of file.sheet.lines) {
    const goods = await readGoodsLine(reading, line)
    if (goods) {
      read.push(goods)
    }
  }
  const taking: Taking = { file, reading, batchId, lists: new Set(), effects: [] }
  const deliveries = groupBy(read, (goods) => `${goods.order.id} ${goods.receivedOn} ${listOf(goods)}`)
  let done = 0
  for (const [, goods] of deliveries) {
    await watch?.report(Math.floor((done++ * 100) / deliveries.size))
    const { order, packingList, receivedOn } = goods[0]!
    await takeDelivery(tx, actor, taking, { order, packingList, receivedOn, goods })
    taking.lists.add(listOf(goods[0]!))
  }
  return { ...file.answer(read.length), effects: file.faults.length > 0 ? [] : taking.effects }
}

interface Taking {
  readonly file: FileReader
  readonly reading: GoodsReading
  readonly batchId: number | null
  /** Packing lists that this file itself has begun with: one may cover several orders. */
  readonly lists: Set<string>
  /** What would be received of each line, a sentence each. */
  readonly effects: string[]
}

const listOf = ({ order, packingList }: ReadGoods): string => `${order.supplierId} ${packingList.toLowerCase()}`

/**
 * Receives a delivery. A line that is refused is told and left out, and the rest tried again: so that every fault is
 * told at once.
 */
async function takeDelivery(tx: Tx, actor: Actor, taking: Taking, delivery: Delivery): Promise<void> {
  let goods = [...delivery.goods]
  while (goods.length > 0) {
    const { edit, sources } = receiptOf(taking, { ...delivery, goods })
    try {
      const { postingId, lines } = await tx.transaction((inner) => receive(inner, actor, delivery.order.id, edit))
      await keepBatch(tx, postingId, taking.batchId)
      taking.effects.push(...effectsOf(taking.reading, delivery.order, lines))
      delivery.order.version++
      return
    } catch (error) {
      if (!(error instanceof Refusal)) {
        throw error
      }
      const refused = new Set(tellRefusal(taking.file, error, sources, goods))
      goods = goods.filter((entry) => !refused.has(entry))
    }
  }
}

/** What of each line of the order comes in by these lines of a receipt: before and after. */
function effectsOf({ items }: GoodsReading, order: OrderedGoods, received: readonly ReceivedLine[]): string[] {
  return [...groupBy(received, (line) => line.lineId)].map(([lineId, own]) => {
    const { itemId, received: before } = order.lines.find((line) => line.id === lineId)!
    const { code, symbol, writing } = items.get(itemId)!
    const after = own.reduce((sum, line) => sum.add(ratio(line.quantity)), ratio(before))
    const print = (quantity: Ratio): string => printAmount(quantity, 6, writing)
    return `${order.number} ${code}: received ${print(ratio(before))} → ${print(after)} ${symbol}`
  })
}

/** Tells a refusal at its line and column; answers the lines that cannot be taken by it. */
function tellRefusal(
  file: FileReader,
  refusal: Refusal,
  sources: readonly (readonly ReadGoods[])[],
  all: readonly ReadGoods[],
): readonly ReadGoods[] {
  const [path, detail] = Object.entries(refusal.fields ?? {})[0] ?? ['', refusal.detail]
  const [, index, field, piece, pieceField] = /^lines\.(\d+)\.(\w+)(?:\.(\d+)\.(\w+))?/.exec(path) ?? []
  if (index === undefined) {
    file.fault(all[0]!.line, COLUMN_OF[path] ?? 'order', detail)
    return all
  }
  const source = sources[Number(index)]!
  const entry = source[Number(piece ?? 0)] ?? source[0]!
  file.fault(entry.line, COLUMN_OF[pieceField ?? field!] ?? 'quantity', detail)
  return [entry]
}

/** The receipt of a delivery, and which lines of the file are behind each line of it. */
function receiptOf(
  { reading: { items }, lists }: Taking,
  { order, packingList, receivedOn, goods }: Delivery,
): { edit: ReceiveDraft; sources: readonly (readonly ReadGoods[])[] } {
  const isPiece = (entry: ReadGoods): boolean => items.get(entry.itemId)!.tracking === 'piece'
  const entries = [
    ...goods.filter((entry) => !isPiece(entry)).map((entry) => [entry]),
    ...groupBy(goods.filter(isPiece), (entry) => `${entry.lineId} ${entry.binId}`).values(),
  ]
  const lines = entries.map((own): ReceiveDraft['lines'][number] => {
    const [{ lineId, quantity, unit, binId, lot, expiresOn, reason }] = own as [ReadGoods]
    const common = { lineId, unit, binId, expiresOn, reason }
    return isPiece(own[0]!)
      ? { ...common, quantity: typedQuantity(''), lot: '', pieces: own.map(pieceOf) }
      : { ...common, quantity: typedQuantity(quantity), lot }
  })
  const sameList = lists.has(listOf(goods[0]!))
  return { edit: { version: order.version, packingList, sameList, effectiveOn: receivedOn, lines }, sources: entries }
}

const pieceOf = (entry: ReadGoods) => ({
  quantity: typedQuantity(entry.quantity),
  unit: entry.unit,
  label: entry.serial,
  lot: entry.lot,
  traits: {},
})

async function keepBatch(tx: Tx, postingId: number | null, batchId: number | null): Promise<void> {
  if (postingId !== null && batchId !== null) {
    await rows(tx, sql`insert into batch_receipts (posting_id, batch_id) values (${postingId}, ${batchId})`)
  }
}

/** Takes all receipts of a file back, the last first. Errors: `short` where something of it has gone on meanwhile. */
export async function takeReceiptsBack(tx: Tx, actor: Actor, batchId: number): Promise<void> {
  requireFor(actor, 'receive', 'Files of goods received')
  const postings = await rows<{ id: number }>(
    tx,
    sql`
      select o.id
      from postings o
      join batch_receipts b on b.posting_id = o.id
      where b.batch_id = ${batchId} and ${isLive('o')}
      order by o.id desc`,
  )
  if (postings.length === 0) {
    throw new Refusal('not-now', 'What this file brought was taken back already.')
  }
  for (const posting of postings) {
    await reverse(tx, actor, posting.id)
  }
}
