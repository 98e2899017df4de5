import { sql } from 'drizzle-orm'
import { convert } from '~~/core/units/graph'
import { ONE, ratio, toDecimal } from '~~/core/units/exact'
import { grouped } from '~~/core/units/quantity'
import { rows, type Reader } from '~~/server/database/client'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { isAllowed, rolesWith } from '~~/shared/company/rights'
import type { MeasuredItem } from '../catalogue/measured-items'

/** Under this name the history of an order keeps what was sold outside the allowed prices. */
export const OUTSIDE_LIMITS = 'outside the allowed prices'

/** A line of an order with its price for one of `unit`; `agreed`: it stands so already, or was agreed elsewhere. */
export interface PricedLine {
  readonly item: MeasuredItem
  readonly price: string
  readonly unit: string
  readonly agreed: boolean
}

/**
 * Holds prices between the lowest and the highest that their items allow; what was agreed stays. Answers what lies
 * outside and was allowed.
 *
 * Errors: `invalid-input` beside the price where the actor may not go outside; `needs-yes` where they may and have not
 *         said so.
 */
export function requireAllowedPrices(actor: Actor, lines: readonly PricedLine[], confirmed: boolean): string[] {
  const outside = lines.flatMap((line, index) => {
    const detail = line.agreed ? null : outsideLimits(line)
    return detail === null ? [] : [{ index, detail }]
  })
  const [first] = outside
  if (first && !isAllowed(actor, 'undercut')) {
    return refuseField(
      `lines.${first.index}.price`,
      `${first.detail} Another price takes one of: ${rolesWith('undercut').join(', ')}.`,
    )
  }
  const details = outside.map(({ detail }) => detail)
  if (first && !confirmed) {
    throw new Refusal('needs-yes', 'A price lies outside what is allowed.', undefined, details)
  }
  return details
}

/** What is wrong with a price by its item's limits, which are for one selling unit; null where nothing is. */
function outsideLimits({ item, price, unit }: PricedLine): string | null {
  const inSelling = convert(item.measure.graph, ONE, unit, item.sellingUnit)
  if (!inSelling.ok) {
    return null
  }
  const unitName = item.measure.graph.units.get(unit)?.name ?? unit
  for (const [bound, side] of [
    [item.lowestPrice, 'lowest'],
    [item.highestPrice, 'highest'],
  ] as const) {
    const limit = bound === null ? null : ratio(bound).mul(inSelling.value)
    const order = limit === null ? 0 : ratio(price).compare(limit)
    if (limit !== null && (side === 'lowest' ? order < 0 : order > 0)) {
      const written = (text: string): string => grouped(text, item.writing)
      return `${item.code} has a ${side} price of ${written(toDecimal(limit, 2))} for one ${unitName}; this is ${written(price)}.`
    }
  }
  return null
}

/** What of an order was sold outside the allowed prices, as it was told when that was said yes to. */
export async function soldOutsideLimits(reader: Reader, orderId: number): Promise<readonly string[]> {
  const noted = await rows<{ kept: string[] }>(
    reader,
    sql`
      select after -> ${OUTSIDE_LIMITS} as kept
      from changes
      where entity = 'sales order' and entity_id = ${String(orderId)} and after ? ${OUTSIDE_LIMITS}
      order by id`,
  )
  return [...new Set(noted.flatMap((entry) => entry.kept))]
}
