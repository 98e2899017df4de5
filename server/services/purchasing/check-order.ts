import type * as z from 'zod'
import type { Ratio } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { db } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { TermsConcern } from '~~/shared/purchasing/answers'
import type { PurchaseDraft as PurchaseDraftSchema } from '~~/shared/purchasing/requests'
import { loadMeasuredItems, readQuantity, type MeasuredItem } from '../catalogue/measured-items'
import { checkTerms } from './check-terms'

type PurchaseDraft = z.output<typeof PurchaseDraftSchema>

/** What is odd about an order that is being typed; lines that cannot be read yet are passed over. */
export async function checkOrder({ supplierId, lines }: Given<PurchaseDraft>, today: string): Promise<TermsConcern[]> {
  const items = await loadMeasuredItems(
    db,
    lines.map((line) => line.itemId),
  )
  const read = lines.flatMap((line, index) => {
    const item = items.get(line.itemId)
    const quantity = item && readLeniently(item, line.quantity, line.unit)
    return quantity ? [{ index, itemId: line.itemId, dueOn: line.dueOn, quantity }] : []
  })
  const found = await checkTerms(db, supplierId, today, read)
  return found.map((concern) => ({ ...concern, line: read[concern.line]!.index }))
}

function readLeniently(
  item: MeasuredItem,
  text: Given<PurchaseDraft>['lines'][number]['quantity'],
  unit: string,
): Ratio | null {
  try {
    return readQuantity(item, text, unit, 'quantity').quantity
  } catch (error) {
    if (error instanceof Refusal) {
      return null
    }
    throw error
  }
}
