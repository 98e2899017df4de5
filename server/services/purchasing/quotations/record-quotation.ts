import { and, eq } from 'drizzle-orm'
import { ratio } from '~~/core/units/exact'
import { convert } from '~~/core/units/graph'
import type { Tx } from '~~/server/database/client'
import { quotationLines, quotationRequestLines, quotations } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { RecordQuotation } from '~~/shared/purchasing/quotations'
import { lockAsSeen, saveDocument } from '../../../documents'
import { loadMeasuredItems, type MeasuredItem } from '../../catalogue/measured-items'

type Edit = Omit<RecordQuotation, 'key'>

/**
 * Records what a supplier quotes, or that they do not: in place of what they quoted before.
 *
 * Errors: `stale-version`; `not-now` where the request is not open, or where something of the quotation was taken;
 *         `invalid-input` beside the field of a line.
 */
export async function recordQuotation(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Edit,
): Promise<{ id: number; version: number }> {
  const request = await lockAsSeen(tx, 'quotation request', id, edit.version, ['open'])
  const [quotation] = await tx
    .select()
    .from(quotations)
    .where(and(eq(quotations.requestId, id), eq(quotations.supplierId, edit.supplierId)))
  if (!quotation) {
    throw new Refusal('invalid-input', 'This supplier is not asked. Reload the page.')
  }
  if (!edit.isDeclined && edit.lines.length === 0) {
    refuseField('lines', 'Give a price for at least one line, or note that they do not quote.')
  }
  if (edit.validUntil !== null && edit.validUntil < request.askedOn) {
    refuseField('validUntil', 'That day was before they were asked.')
  }
  await requireReadable(tx, id, edit)
  const before = await tx.select().from(quotationLines).where(eq(quotationLines.quotationId, quotation.id))
  await tx.delete(quotationLines).where(eq(quotationLines.quotationId, quotation.id))
  const lines = edit.isDeclined ? [] : edit.lines
  if (lines.length > 0) {
    await tx.insert(quotationLines).values(
      lines.map((line) => ({
        ...line,
        quotationId: quotation.id,
        tiers: line.tiers.map((tier) => ({ ...tier, fromOn: null, untilOn: null })),
      })),
    )
  }
  const { isDeclined, reference, validUntil, charges, note } = edit
  await tx
    .update(quotations)
    .set({ isDeclined, reference, validUntil, charges, note, answeredOn: actor.today })
    .where(eq(quotations.id, quotation.id))
  const { version } = await saveDocument(tx, actor, 'quotation request', request, {
    set: {},
    before: { quotation: { supplierId: edit.supplierId, lines: before } },
    after: { quotation: edit },
  })
  return { id, version }
}

/** Each line once, of this request, in a unit in which its item can be measured. */
async function requireReadable(tx: Tx, id: number, edit: Edit): Promise<void> {
  const asked = await tx.select().from(quotationRequestLines).where(eq(quotationRequestLines.requestId, id))
  const items = await loadMeasuredItems(
    tx,
    asked.map((line) => line.itemId),
  )
  const seen = new Set<number>()
  for (const [index, line] of edit.lines.entries()) {
    const own = asked.find((entry) => entry.id === line.lineId)
    if (!own || seen.has(line.lineId)) {
      throw new Refusal('invalid-input', 'A line of this request is gone, or is named twice. Reload the page.')
    }
    seen.add(line.lineId)
    requireUnit(items.get(own.itemId)!, line.unit, `lines.${index}.unit`)
  }
}

function requireUnit(item: MeasuredItem, unit: string, field: string): void {
  if (!convert(item.measure.graph, ratio(1), item.stockUnit, unit).ok) {
    refuseField(field, `${item.code} cannot be measured in this unit. Choose another, or add a pack to the item.`)
  }
}
