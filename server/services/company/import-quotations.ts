import { eq, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { rows, type Tx } from '~~/server/database/client'
import { quotationRequests } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { RecordQuotation } from '~~/shared/purchasing/quotations'
import { exactIfPlain } from '../catalogue/measured-items'
import { recordQuotation } from '../purchasing/quotations/record-quotation'
import { createRequest } from '../purchasing/quotations/requests'
import type { Row } from './import-stock'

interface Find {
  readonly item: (code: string | undefined) => Promise<number>
  readonly supplier: (code: string | undefined) => Promise<number>
}

/**
 * What suppliers were asked to quote for, and what they answered: a row for each supplier and item, without a price
 * where they have not answered. Errors: `invalid-input`.
 */
export async function importQuotations(
  tx: Tx,
  actor: Actor,
  number: string,
  lines: readonly Row[],
  find: Find,
): Promise<void> {
  const head = lines[0]!
  const then = { ...actor, today: head.asked_on || actor.today }
  const bySupplier = groupBy(lines, (row) => row.supplier ?? '')
  const byItem = groupBy(lines, (row) => row.item ?? '')
  const supplierIds = []
  for (const code of bySupplier.keys()) {
    supplierIds.push(await find.supplier(code))
  }
  const asked = []
  for (const [code, [first]] of byItem) {
    asked.push({
      itemId: await find.item(code),
      quantity: exactIfPlain(first!.quantity!),
      unit: first!.unit!,
      neededOn: first!.needed_by!,
      wantId: null,
    })
  }
  const { id } = await createRequest(tx, then, {
    answerBy: head.answer_by!,
    siteId: null,
    note: head.note ?? '',
    supplierIds,
    lines: asked,
  })
  await tx.update(quotationRequests).set({ number }).where(eq(quotationRequests.id, id))
  await rows(tx, sql`update quotations set sent_on = ${then.today} where request_id = ${id}`)
  for (const [code, own] of bySupplier) {
    const answered = own.filter((row) => row.price)
    if (answered.length > 0) {
      await importAnswer(tx, actor, { id, supplierId: await find.supplier(code) }, answered, find)
    }
  }
}

async function importAnswer(
  tx: Tx,
  actor: Actor,
  { id, supplierId }: { readonly id: number; readonly supplierId: number },
  answered: readonly Row[],
  find: Find,
): Promise<void> {
  const known = await rows<{ id: number; itemId: number; version: number }>(
    tx,
    sql`
      select l.id, l.item_id as "itemId", r.version
      from quotation_request_lines l
      join quotation_requests r on r.id = l.request_id
      where r.id = ${id}`,
  )
  const [head] = answered
  const lines = []
  for (const row of answered) {
    const itemId = await find.item(row.item)
    lines.push({
      lineId: known.find((line) => line.itemId === itemId)!.id,
      unit: row.unit,
      price: row.price,
      minimum: row.minimum || '0',
      multiple: row.multiple || '0',
      leadDays: Number(row.lead_days || '0'),
      tiers: row.from_quantity ? [{ fromQuantity: row.from_quantity, price: row.price_from }] : [],
    })
  }
  const read = RecordQuotation.omit({ key: true }).safeParse({
    version: known[0]!.version,
    supplierId,
    reference: head!.reference ?? '',
    validUntil: head!.valid_until ?? '',
    charges: head!.charge ? [{ name: head!.charge, amount: head!.charge_amount }] : [],
    note: '',
    lines,
  })
  if (!read.success) {
    throw new Refusal('invalid-input', read.error.issues[0]!.message)
  }
  await recordQuotation(tx, actor, id, read.data)
}
