import { eq, sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { ratio, toText, type Ratio } from '~~/core/units/exact'
import { convert } from '~~/core/units/graph'
import type { Given } from '~~/core/units/quantity'
import type { Reader, Tx } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ConfirmPurchase } from '~~/shared/purchasing/requests'
import type { OrderedAs } from '~~/shared/purchasing/sent'
import type { ServedLater } from '~~/shared/stock/served-later'
import { lockAsSeen, saveDocument } from '../../documents'
import { asNumeric, loadMeasuredItems, readIfGiven, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { servedLater } from '../stock/served-later'

type Line = typeof purchaseLines.$inferSelect
type LineEdit = Given<ConfirmPurchase>['lines'][number]

/**
 * Keeps what the supplier confirms of an order, line by line. Where that is another quantity, price or day, the order
 * goes by it from now on, and what was asked stays beside it.
 *
 * Errors: `stale-version`; `not-now` for one that is not open; `invalid-input` beside the field of a line.
 */
export async function confirmPurchase(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Omit<Given<ConfirmPurchase>, 'key'>,
): Promise<{ id: number; version: number }> {
  const order = await lockAsSeen(tx, 'purchase order', id, edit.version, ['open'])
  const lines = new Map(
    (await tx.select().from(purchaseLines).where(eq(purchaseLines.orderId, id))).map((line) => [line.id, line]),
  )
  const items = await loadMeasuredItems(
    tx,
    [...lines.values()].map((line) => line.itemId),
  )
  const confirmed: object[] = []
  for (const [index, entry] of edit.lines.entries()) {
    const line = lines.get(entry.lineId)
    if (!line) {
      throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
    }
    const item = items.get(line.itemId)!
    if (entry.dueOn < order.orderedOn) {
      refuseField(
        `lines.${index}.dueOn`,
        `It cannot come before the day on which it was ordered, ${printDay(order.orderedOn, actor.today, item.writing.dateFormat)}.`,
      )
    }
    const { stored, now } = readConfirmed(item, line, entry, `lines.${index}.quantity`)
    const asked = line.asked ?? asOrdered(line)
    await tx
      .update(purchaseLines)
      // A price that is confirmed otherwise is no longer one with the discount that was given.
      .set({
        ...stored,
        ...(stored.price !== line.price && { listPrice: null, discountPercent: null }),
        confirmedOn: actor.today,
        asked: isSame(asked, now) ? null : asked,
      })
      .where(sql`${purchaseLines.id} = ${line.id}`)
    confirmed.push({ line: line.line, ...now })
  }
  const { version } = await saveDocument(tx, actor, 'purchase order', order, {
    set: { supplierReference: edit.reference },
    before: { confirmed: edit.lines.map(({ lineId }) => asOrdered(lines.get(lineId)!)) },
    after: { confirmed },
  })
  return { id, version }
}

const asOrdered = ({ entered, unit, price, dueOn }: Line): OrderedAs => ({ entered, unit, price, dueOn })

const isSame = (a: OrderedAs, b: OrderedAs): boolean =>
  a.dueOn === b.dueOn &&
  a.unit === b.unit &&
  ratio(a.entered).equals(ratio(b.entered)) &&
  ratio(a.price).equals(ratio(b.price))

/** What a line orders as it is confirmed; a quantity that is confirmed cannot fall below what has come. */
function readConfirmed(
  item: MeasuredItem,
  line: Line,
  { quantity, price, dueOn }: LineEdit,
  path: string,
): { stored: OrderedAs & { readonly quantity: string }; now: OrderedAs } {
  const read = readQuantity(item, quantity, line.unit, path)
  if (read.quantity.compare(ratio(line.received)) < 0) {
    refuseField(path, `${item.code}: more than that has come already.`)
  }
  // Whoever confirms in another unit means the same goods: the price stays that of one of the unit ordered in.
  const inUnit = convert(item.measure.graph, read.exact, item.stockUnit, line.unit)
  const entered = read.unit === line.unit || !inUnit.ok ? read.entered : toText(inUnit.value)
  const now = { entered, unit: line.unit, price, dueOn }
  return { stored: { ...now, quantity: asNumeric(read.quantity) }, now }
}

/**
 * Who would be served later if an order were confirmed so. Lines whose quantity cannot be read yet count as they stand.
 */
export async function waitingFor(
  reader: Reader,
  id: number,
  lines: Given<ConfirmPurchase>['lines'],
  today: string,
): Promise<readonly ServedLater[]> {
  const stored = await reader.select().from(purchaseLines).where(eq(purchaseLines.orderId, id))
  const ids = [...new Set(stored.map((line) => line.itemId))]
  const items = await loadMeasuredItems(reader, ids)
  const asConfirmed = new Map<string, { day: string; quantity: Ratio }>(
    lines.flatMap((entry) => {
      const line = stored.find((known) => known.id === entry.lineId)
      if (!line) {
        return []
      }
      const read = readIfGiven(items.get(line.itemId)!, entry.quantity, line.unit, 'quantity')
      const left = (read?.quantity ?? ratio(line.quantity)).sub(ratio(line.received))
      return [[`purchase:${line.id}`, { day: entry.dueOn < today ? today : entry.dueOn, quantity: left }] as const]
    }),
  )
  const late = await servedLater(reader, ids, today, (row) => ({ ...row, ...asConfirmed.get(row.id) }))
  return late.map(({ job, ...row }) => {
    void job
    return row
  })
}
