import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type {
  QuotationRequest,
  QuotationRow,
  QuotedRow,
  RequestLine,
  TakeQuotations,
} from '~~/shared/purchasing/quotations'
import { lockAsSeen, saveDocument } from '../../../documents'
import { loadDefinition, saveOne, shapeOf } from '../../catalogue/definitions'
import { exactIfPlain } from '../../catalogue/measured-items'
import { loadWriting } from '../../company/company'
import { orderNeeds } from '../buying/order-needs'
import { loadRequest } from './load-request'

/** A line that is taken, as it was asked and as it is quoted. */
interface Taken {
  readonly asked: RequestLine
  readonly quotation: QuotationRow
  readonly quoted: QuotedRow
}
export interface TakenAnswer {
  readonly id: number
  readonly version: number
  readonly orders: readonly { readonly id: number; readonly number: string }[]
  /** Items whose terms were changed. */
  readonly terms: number
}

/**
 * Takes what suppliers quote: into the terms of the items, into orders (one a supplier, with their charges), or both.
 *
 * Errors: `stale-version`; `not-now` for a request that is cancelled, a line that is ordered already, or prices that
 *         are no longer held; `invalid-input` where a supplier does not quote a line.
 */
export async function takeQuotations(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: Omit<TakeQuotations, 'key'>,
): Promise<TakenAnswer> {
  const request = await lockAsSeen(tx, 'quotation request', id, edit.version, ['open', 'taken'])
  const whole = await loadRequest(tx, id, actor.today)
  const { dateFormat } = await loadWriting(tx)
  const taken = edit.lines.map(({ lineId, supplierId }) => requireQuoted(whole, lineId, supplierId))
  for (const { asked, quotation, quoted } of taken) {
    if (edit.intoOrders && quoted.order !== null) {
      throw new Refusal('not-now', `${asked.code} is on ${quoted.order.number} already. Reload the page.`)
    }
    if (quotation.validUntil !== null && quotation.validUntil < actor.today) {
      throw new Refusal(
        'not-now',
        `${quotation.supplier} held these prices until ${printDay(quotation.validUntil, actor.today, dateFormat)}. Ask again, or record what they hold now.`,
      )
    }
  }
  if (edit.intoTerms) {
    await writeTerms(tx, actor, taken)
  }
  const orders = edit.intoOrders ? await order(tx, actor, whole, taken) : []
  const { version } = await saveDocument(tx, actor, 'quotation request', request, {
    set: orders.length > 0 ? { status: 'taken' } : {},
    after: { taken: edit.lines, intoTerms: edit.intoTerms, orders: orders.map(({ number }) => number) },
  })
  return { id, version, orders, terms: edit.intoTerms ? taken.length : 0 }
}

function requireQuoted(request: QuotationRequest, lineId: number, supplierId: number): Taken {
  const asked = request.lines.find((line) => line.id === lineId)
  const quotation = request.quotations.find((entry) => entry.supplierId === supplierId)
  const quoted = quotation?.lines.find((line) => line.lineId === lineId)
  if (!asked || !quotation || !quoted) {
    throw new Refusal('invalid-input', 'A line that was chosen is not quoted any more. Reload the page.')
  }
  return { asked, quotation, quoted }
}

/** One order for each supplier, with what they charge besides; what they deliver to a customer has its own. */
async function order(
  tx: Tx,
  actor: Actor,
  request: QuotationRequest,
  taken: readonly Taken[],
): Promise<{ id: number; number: string }[]> {
  const wants = await rows<{ id: number; wantId: number | null }>(
    tx,
    sql`select id, want_id as "wantId" from quotation_request_lines where request_id = ${request.id}`,
  )
  const orders = []
  for (const quotation of request.quotations) {
    const own = taken.filter((entry) => entry.quotation === quotation)
    if (own.length === 0) {
      continue
    }
    const { orders: made } = await orderNeeds(tx, actor, {
      onDrafts: false,
      orderId: null,
      lines: own.map(({ asked, quoted }) => ({
        itemId: asked.itemId,
        supplierId: quotation.supplierId,
        siteId: request.siteId,
        quantity: exactIfPlain(quoted.quantity),
        unit: quoted.unit,
        price: quoted.priceThen,
        dueOn: quoted.arrivesOn > asked.neededOn ? quoted.arrivesOn : asked.neededOn,
        wantId: wants.find((want) => want.id === asked.id)!.wantId,
      })),
    })
    for (const [index, { id, number, places }] of made.entries()) {
      // Charges are asked once: they stand on the first, where some of it goes to a customer by itself.
      const charges = index === 0 ? quotation.charges : []
      const lines = places.map((place) => own[place]!)
      await noteTaken(tx, id, request.id, { ...quotation, charges }, lines)
      orders.push({ id, number })
    }
  }
  return orders
}

/** The order carries the charges and the number of the quotation; its lines know the order that they went into. */
async function noteTaken(
  tx: Tx,
  orderId: number,
  requestId: number,
  quotation: QuotationRow,
  taken: readonly Taken[],
): Promise<void> {
  await rows(
    tx,
    sql`
      update purchase_orders
      set charges = ${JSON.stringify(quotation.charges)}::jsonb, supplier_reference = ${quotation.reference}
      where id = ${orderId}`,
  )
  for (const { asked } of taken) {
    await rows(
      tx,
      sql`
        update quotation_lines l
        set order_id = ${orderId}
        from quotations q
        where q.id = l.quotation_id
          and q.request_id = ${requestId}
          and q.supplier_id = ${quotation.supplierId}
          and l.line_id = ${asked.id}`,
    )
  }
}

/** What is quoted becomes the supplier’s terms for the item; the code and the rank that they had stay. */
async function writeTerms(tx: Tx, actor: Actor, taken: readonly Taken[]): Promise<void> {
  for (const { asked, quotation, quoted } of taken) {
    const { id, version, ...definition } = await loadDefinition(tx, 'items', asked.itemId)
    const { supplierId } = quotation
    const { unit, price, minimum, multiple, leadDays } = quoted
    const tiers = quoted.tiers.map((tier) => ({ ...tier, fromOn: null, untilOn: null }))
    const known = definition.terms.find((terms) => terms.supplierId === supplierId)
    const { rank, supplierCode } = known ?? { rank: definition.terms.length + 1, supplierCode: '' }
    const terms = { supplierId, rank, supplierCode, unit, price, tiers, minimum, multiple, leadDays }
    await saveOne(tx, actor, shapeOf('items'), {
      id,
      version,
      definition: {
        ...definition,
        terms: known
          ? definition.terms.map((entry) => (entry === known ? terms : entry))
          : [...definition.terms, terms],
      },
    })
  }
}
