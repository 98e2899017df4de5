import { eq, sql } from 'drizzle-orm'
import { ratio, toDecimal, toText } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { customers, salesLines, salesOrders } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { SalesOrderEdit } from '~~/shared/demand/requests'
import { asNumeric, loadMeasuredItems, readQuantity, requireUsable } from '../catalogue/measured-items'
import { ALLOCATED } from '../dispatch/serving'
import { hasShipped, settle } from './order-end'
import { OUTSIDE_LIMITS, requireAllowedPrices } from './price-limits'
import { lockAsSeen, saveDocument, nextNumber, noteChange } from '../../documents'

export async function createOrder(
  tx: Tx,
  actor: Actor,
  edit: Given<SalesOrderEdit> & {
    customerId: number
    number?: string
    orderedOn?: string
    outsideRef?: string | null
    batchId?: number | null
    /** The prices were agreed elsewhere, as in the web shop: nothing is asked of them. */
    agreed?: boolean
  },
): Promise<{ id: number; number: string }> {
  await requireActiveCustomer(tx, edit.customerId)
  await requireNew(tx, edit.number ?? '', edit.outsideRef ?? '')
  const number = edit.number ?? (await nextNumber(tx, 'SO'))
  const [order] = await tx
    .insert(salesOrders)
    .values({
      number,
      customerId: edit.customerId,
      orderedOn: edit.orderedOn ?? actor.today,
      dueOn: edit.dueOn,
      note: edit.note,
      siteId: edit.siteId ?? null,
      priority: edit.priority ?? 0,
      outsideRef: edit.outsideRef ?? null,
      batchId: edit.batchId ?? null,
    })
    .returning()
  const { agreed, ...noted } = edit
  const { lines, outside } = await linesOf(tx, actor, order!.id, edit, agreed ? 'all' : [])
  await tx.insert(salesLines).values(lines)
  await noteChange(tx, actor, { kind: 'sales order', id: order!.id }, null, { ...noted, ...keptPrices(outside) })
  return { id: order!.id, number }
}

async function requireActiveCustomer(tx: Tx, id: number): Promise<void> {
  const [customer] = await tx.select().from(customers).where(eq(customers.id, id))
  if (!customer) {
    throw new Refusal('invalid-input', 'Choose a customer.', { customerId: 'Choose a customer.' })
  }
  if (customer.retired) {
    refuseField(
      'customerId',
      `${customer.name} is retired. Choose another customer, or make it active again in the Catalogue.`,
    )
  }
}

/** Refuses an order that is here already, by our number or by the customer's. */
async function requireNew(tx: Tx, number: string, outsideRef: string): Promise<void> {
  if (number === '' && outsideRef === '') {
    return
  }
  const [known] = await rows<{ number: string; outsideRef: string | null }>(
    tx,
    sql`
      select number, outside_ref as "outsideRef"
      from sales_orders
      where number = ${number} or outside_ref = ${outsideRef}`,
  )
  if (known) {
    refuseField(
      'number',
      known.outsideRef !== null && known.outsideRef === outsideRef
        ? `${known.outsideRef} was taken in already: it is ${known.number}.`
        : `There is an order ${known.number} already.`,
    )
  }
}

interface BoundLine {
  readonly id: number
  readonly itemId: number
  readonly entered: string
  readonly unit: string
  readonly price: string
  readonly shipped: string
  readonly allocated: string
  readonly code: string
}

type WantedLine = Awaited<ReturnType<typeof linesOf>>['lines'][number]

const keptPrices = (outside: readonly string[]): object => (outside.length > 0 ? { [OUTSIDE_LIMITS]: outside } : {})

/** Refuses lines that fall below what is allocated or shipped of them, and lines that are of another order. */
function requireKept(bound: readonly BoundLine[], wanted: readonly WantedLine[], edit: SalesOrderEdit): void {
  for (const old of bound) {
    const least = ratio(old.shipped).add(ratio(old.allocated))
    if (least.equals(0)) {
      continue
    }
    const index = edit.lines.findIndex((line) => line.id === old.id)
    const isGone = index < 0 || wanted[index]!.itemId !== old.itemId
    if (isGone || ratio(wanted[index]!.quantity).compare(least) < 0) {
      const detail = `${toText(least)} of ${old.code} is allocated or shipped already. Give the allocation back first, or keep at least that much.`
      throw new Refusal('invalid-input', detail, { [index < 0 ? 'lines' : `lines.${index}.quantity`]: detail })
    }
  }
  const known = new Set(bound.map((line) => line.id))
  if (edit.lines.some((line) => line.id !== null && !known.has(line.id))) {
    throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
  }
}

/** Lines keep their identity where they stay; numbers stand aside first, since no two lines may have the same. */
async function replaceLines(
  tx: Tx,
  orderId: number,
  bound: readonly BoundLine[],
  wanted: readonly WantedLine[],
  edit: SalesOrderEdit,
): Promise<void> {
  await rows(tx, sql`update sales_lines set line = -id where order_id = ${orderId}`)
  const kept = new Set(edit.lines.map((line) => line.id))
  for (const old of bound.filter((line) => !kept.has(line.id))) {
    await tx.delete(salesLines).where(eq(salesLines.id, old.id))
  }
  for (const [index, line] of wanted.entries()) {
    const lineId = edit.lines[index]!.id
    if (lineId === null) {
      await tx.insert(salesLines).values(line)
    } else {
      await tx.update(salesLines).set(line).where(eq(salesLines.id, lineId))
    }
  }
}

/** Changes an open order. A line that is allocated or shipped keeps its item, and cannot fall below what is. */
export async function changeOrder(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: SalesOrderEdit & { version: number },
): Promise<{ id: number }> {
  const before = await lockAsSeen(tx, 'sales order', id, edit.version, ['open'])
  const bound = await rows<BoundLine>(
    tx,
    sql`
      select
        l.id, l.item_id as "itemId", l.entered, l.unit, l.price, l.shipped, ${ALLOCATED} as allocated, i.code
      from sales_lines l
      join items i on i.id = l.item_id
      where l.order_id = ${id}
      order by l.line`,
  )
  const { lines: wanted, outside } = await linesOf(tx, actor, id, edit, bound)
  requireKept(bound, wanted, edit)
  await replaceLines(tx, id, bound, wanted, edit)
  const linesBefore = bound.map(({ id: line, itemId, entered, unit, price }) => ({
    id: line,
    itemId,
    quantity: entered,
    unit,
    price,
  }))
  await saveDocument(tx, actor, 'sales order', before, {
    set: {
      // What is shipped may be all that is still wanted.
      status: (await hasShipped(tx, id)) ? await settle(tx, id) : before.status,
      dueOn: edit.dueOn,
      note: edit.note,
      siteId: edit.siteId === undefined ? before.siteId : edit.siteId,
      priority: edit.priority ?? before.priority,
    },
    before: { lines: linesBefore },
    after: { lines: edit.lines, ...keptPrices(outside) },
  })
  return { id }
}

/**
 * The lines as they are stored, and what of their prices lies outside what is allowed; a price that stood so before was
 * agreed.
 */
async function linesOf(
  tx: Tx,
  actor: Actor,
  orderId: number,
  edit: Given<SalesOrderEdit>,
  agreed: readonly BoundLine[] | 'all',
) {
  const items = await loadMeasuredItems(
    tx,
    edit.lines.map((line) => line.itemId),
  )
  const lines = edit.lines.map((line, index) => {
    const item = items.get(line.itemId)
    if (!item) {
      throw new Refusal('invalid-input', 'Choose an item.', { [`lines.${index}.itemId`]: 'Choose an item.' })
    }
    requireUsable(item, `lines.${index}.itemId`, 'any')
    const read = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`)
    return {
      orderId,
      line: index + 1,
      itemId: line.itemId,
      entered: read.entered,
      unit: read.unit,
      quantity: asNumeric(read.quantity),
      price: line.price,
      stockPrice: toDecimal(ratio(line.price).mul(ratio(read.entered)).div(read.quantity), 12),
    }
  })
  const stands = (line: (typeof lines)[number], index: number): boolean =>
    agreed === 'all' ||
    agreed.some(
      (old) =>
        old.id === edit.lines[index]!.id &&
        old.itemId === line.itemId &&
        old.unit === line.unit &&
        ratio(old.price).equals(ratio(line.price)),
    )
  const outside = requireAllowedPrices(
    actor,
    lines.map((line, index) => ({ ...line, item: items.get(line.itemId)!, agreed: stands(line, index) })),
    edit.confirmed ?? false,
  )
  return { lines, outside }
}
