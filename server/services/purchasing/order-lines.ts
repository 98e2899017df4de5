import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { ratio, toText } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { NewPurchaseOrder } from '~~/shared/purchasing/requests'
import { asNumeric, loadMeasuredItems, readQuantity, requireUsable } from '../catalogue/measured-items'

type Edit = Given<NewPurchaseOrder>['lines'][number]
type LineEdit = Omit<Edit, 'discount'> & Partial<Pick<Edit, 'discount'>>

/** A line as it is stored: as it was typed, and in the stock unit. */
export interface WantedLine {
  readonly itemId: number
  readonly entered: string
  readonly unit: string
  readonly price: string
  /** The price before the discount, where one was given. */
  readonly listPrice: string | null
  readonly discountPercent: string | null
  readonly quantity: string
  readonly dueOn: string
}

/**
 * The lines of an order that is given on a day, as they are stored. Those at `settled` places were there before: what
 * was allowed then stays allowed.
 *
 * Errors: `invalid-input` beside the field of a line.
 */
export async function linesToOrder(
  tx: Tx,
  lines: readonly LineEdit[],
  orderedOn: string,
  today: string,
  settled: ReadonlySet<number> = new Set(),
): Promise<WantedLine[]> {
  const items = await loadMeasuredItems(
    tx,
    lines.map((line) => line.itemId),
  )
  return lines.map((line, index) => {
    const item = items.get(line.itemId)
    if (!item) {
      throw new Refusal('invalid-input', 'Choose an item.', { [`lines.${index}.itemId`]: 'Choose an item.' })
    }
    if (!settled.has(index)) {
      requireUsable(item, `lines.${index}.itemId`, 'buy')
    }
    if (line.dueOn < orderedOn) {
      refuseField(
        `lines.${index}.dueOn`,
        `It cannot come before the day on which it is ordered, ${printDay(orderedOn, today, item.writing.dateFormat)}.`,
      )
    }
    const read = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`)
    return {
      itemId: line.itemId,
      entered: read.entered,
      unit: read.unit,
      ...pricesOf(line),
      quantity: asNumeric(read.quantity),
      dueOn: line.dueOn,
    }
  })
}

/** What one of a line's unit costs once the discount is off: exact, since a hundredth always ends. */
function pricesOf({ price, discount = '' }: LineEdit): Pick<WantedLine, 'price' | 'listPrice' | 'discountPercent'> {
  if (discount === '' || ratio(discount).equals(0)) {
    return { price, listPrice: null, discountPercent: null }
  }
  const left = ratio(price)
    .mul(ratio(100).sub(ratio(discount)))
    .div(ratio(100))
  return { price: toText(left), listPrice: price, discountPercent: discount }
}

/** A line of what is asked for or agreed: as it was typed, and in the stock unit. */
export interface ItemLine {
  readonly line: number
  readonly itemId: number
  readonly entered: string
  readonly unit: string
  readonly quantity: string
}

/** Lines of items that may be bought, in their order. Errors: `invalid-input` beside the field of a line. */
export async function readItemLines(
  tx: Tx,
  lines: readonly Pick<Edit, 'itemId' | 'quantity' | 'unit'>[],
): Promise<ItemLine[]> {
  const items = await loadMeasuredItems(
    tx,
    lines.map((line) => line.itemId),
  )
  return lines.map((line, index) => {
    const item = items.get(line.itemId)
    if (!item) {
      return refuseField(`lines.${index}.itemId`, 'Choose an item.')
    }
    requireUsable(item, `lines.${index}.itemId`, 'buy')
    const { entered, unit, quantity } = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`)
    return { line: index + 1, itemId: item.id, entered, unit, quantity: asNumeric(quantity) }
  })
}

/** Errors: `invalid-input` where the place of delivery is none. */
export async function requireSite(tx: Tx, siteId: number | null): Promise<void> {
  if (siteId === null) {
    return
  }
  const found = await rows(tx, sql`select 1 from sites where id = ${siteId} and not retired`)
  if (found.length === 0) {
    refuseField('siteId', 'Choose where it is to be delivered.')
  }
}
