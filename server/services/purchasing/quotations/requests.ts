import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { quotationRequestLines, quotationRequests, quotations } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { MOST_QUOTED } from '~~/core/buying'
import type { NewQuotationRequest } from '~~/shared/purchasing/quotations'
import { lockAsSeen, nextNumber, noteChange, saveDocument } from '../../../documents'
import { loadWriting } from '../../company/company'
import { readItemLines, requireSite } from '../order-lines'

type Edit = Omit<Given<NewQuotationRequest>, 'key'>

/**
 * Notes what several suppliers are to quote for; they are asked by a letter of their own.
 *
 * Errors: `invalid-input` beside the field.
 */
export async function createRequest(tx: Tx, actor: Actor, edit: Edit): Promise<{ id: number; number: string }> {
  await requireSite(tx, edit.siteId)
  await requireSuppliers(tx, edit.supplierIds)
  const { dateFormat } = await loadWriting(tx)
  if (edit.answerBy < actor.today) {
    refuseField('answerBy', `That day is past: today is ${printDay(actor.today, '', dateFormat)}.`)
  }
  const read = await readItemLines(tx, edit.lines)
  const lines = read.map((line, index) => {
    const { neededOn, wantId } = edit.lines[index]!
    return { ...line, neededOn, wantId }
  })
  const number = await nextNumber(tx, 'QR')
  const [request] = await tx
    .insert(quotationRequests)
    .values({ number, askedOn: actor.today, answerBy: edit.answerBy, siteId: edit.siteId, note: edit.note })
    .returning({ id: quotationRequests.id })
  const requestId = request!.id
  await tx.insert(quotationRequestLines).values(lines.map((line) => ({ ...line, requestId })))
  await tx.insert(quotations).values([...new Set(edit.supplierIds)].map((supplierId) => ({ requestId, supplierId })))
  await noteChange(tx, actor, { kind: 'quotation request', id: requestId }, null, edit)
  return { id: requestId, number }
}

/** Errors: `invalid-input` where one is gone or retired. */
async function requireSuppliers(tx: Tx, ids: readonly number[]): Promise<void> {
  const known = await rows<{ id: number; name: string; retired: boolean }>(
    tx,
    sql`select id, name, retired from suppliers where ${anyOf(sql`id`, ids)}`,
  )
  const retired = known.find((supplier) => supplier.retired)
  if (retired || known.length < new Set(ids).size) {
    refuseField(
      'supplierIds',
      retired ? `${retired.name} is retired. Choose others.` : 'A supplier is gone. Choose others.',
    )
  }
}

/** Asks more suppliers the same. Errors: as above; `not-now` where it is not open; `stale-version`. */
export async function addSuppliers(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { readonly version: number; readonly supplierIds: readonly number[] },
): Promise<{ id: number; version: number }> {
  const request = await lockAsSeen(tx, 'quotation request', id, edit.version, ['open'])
  await requireSuppliers(tx, edit.supplierIds)
  const known = await rows<{ supplierId: number }>(
    tx,
    sql`select supplier_id as "supplierId" from quotations where request_id = ${id}`,
  )
  const asked = new Set(known.map(({ supplierId }) => supplierId))
  const added = [...new Set(edit.supplierIds)].filter((supplierId) => !asked.has(supplierId))
  if (asked.size + added.length > MOST_QUOTED) {
    refuseField('supplierIds', `Ask at most ${MOST_QUOTED} suppliers at once.`)
  }
  if (added.length > 0) {
    await tx.insert(quotations).values(added.map((supplierId) => ({ requestId: id, supplierId })))
  }
  const { version } = await saveDocument(tx, actor, 'quotation request', request, {
    set: {},
    after: { supplierIds: added },
  })
  return { id, version }
}

/** Nobody waits for answers any more, or does again. Errors: `not-now` where something of it was taken; `stale-version`. */
export async function cancelRequest(
  tx: Tx,
  actor: Actor,
  id: number,
  version: number,
): Promise<{ id: number; version: number }> {
  const request = await lockAsSeen(tx, 'quotation request', id, version)
  if (request.status === 'taken') {
    throw new Refusal('not-now', `${request.number} was taken into an order already.`)
  }
  const status = request.status === 'open' ? 'cancelled' : 'open'
  return { id, ...(await saveDocument(tx, actor, 'quotation request', request, { set: { status } })) }
}
