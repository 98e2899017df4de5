import { printDay } from '~~/core/calendar/days'
import { eq, sql } from 'drizzle-orm'
import { lineValue } from '~~/core/costing'
import { ratio } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { db, rows, type Tx } from '~~/server/database/client'
import { MEASURED_ITEM } from '~~/server/database/sql'
import { purchaseLines, purchaseOrders, suppliers } from '~~/server/database/schema'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { NewPurchaseOrder } from '~~/shared/purchasing/requests'
import { asNumeric, loadMeasuredItems, readQuantity, requireUsable } from '../catalogue/measured-items'
import { loadPostings } from '../../ledger/postings'
import { checkTerms, KEPT, keptAgainstTerms } from './check-terms'
import { loadInvoices, loadUninvoiced } from './invoice-queries'
import { paidIn } from './paid-in'
import { saveDocument, type DocumentOf, lockAsSeen, nextNumber, noteChange } from '../../documents'

export interface PurchaseLineRow {
  id: number
  line: number
  itemId: number
  code: string
  name: string
  supplierCode: string
  entered: string
  unit: string
  price: string
  quantity: string
  received: string
  dueOn: string
  closedShort: boolean
  symbol: string
  decimals: number
  stockUnit: string
  finestStep: string
  kind: string
  tracking: string
  groupId: number
  purchaseText: string
  shelfLifeDays: number | null
  value: string
  relations: { unit: string; ofUnit: string; numerator: string; denominator: string }[]
}

export async function loadPurchase(id: number) {
  const [order] = await rows<{
    id: number
    number: string
    supplierId: number
    supplier: string
    email: string
    address: string
    orderedOn: string
    currency: string | null
    rate: string
    status: string
    note: string
    version: number
    deliverTo: string | null
    deliverAddress: string | null
    /** The site that it is delivered to: the one it names, else the first. */
    siteId: number | null
  }>(
    db,
    sql`
      select
        o.id, o.number, d.name as "deliverTo", d.address as "deliverAddress", o.supplier_id as "supplierId",
        s.name as supplier, s.email, s.address, o.ordered_on as "orderedOn", o.currency, o.rate, o.status,
        o.note, o.version,
        coalesce(o.site_id, (select f.id from sites f where not f.retired order by f.id limit 1)) as "siteId"
      from purchase_orders o
      join suppliers s on s.id = o.supplier_id
      left join sites d on d.id = o.site_id
      where o.id = ${id}`,
  )
  if (!order) {
    throw new Refusal('not-found', 'There is no such purchase order.')
  }
  const lines = await rows<Omit<PurchaseLineRow, 'value'>>(
    db,
    sql`
      select
        l.id, l.line, l.item_id as "itemId", i.code, i.name, coalesce(t.supplier_code, '') as "supplierCode",
        l.entered, l.unit, l.price, l.quantity, l.received, l.due_on as "dueOn",
        l.closed_short as "closedShort", i.symbol, i.decimals, i.stock_unit as "stockUnit",
        i.finest_step as "finestStep", i.kind, i.purchase_text as "purchaseText", i.tracking,
        i.group_id as "groupId", i.shelf_life_days as "shelfLifeDays",
        coalesce(
          (
            select json_agg(
              json_build_object(
                'unit', r.unit, 'ofUnit', r.of_unit, 'numerator', r.numerator::text, 'denominator',
                r.denominator::text
              )
            )
            from item_relations r
            where r.item_id = i.id
          ),
          '[]'
        ) as relations
      from purchase_lines l
      join ${MEASURED_ITEM} i on i.id = l.item_id
      left join supplier_terms t on t.item_id = l.item_id and t.supplier_id = ${order.supplierId}
      where l.order_id = ${id}
      order by l.line`,
  )
  const valued = lines.map((line) => ({ ...line, value: lineValue(ratio(line.entered), ratio(line.price)).toString() }))
  const postings = await loadPostings('purchase order', id)
  return {
    ...order,
    lines: valued,
    postings,
    kept: await keptAgainstTerms(db, id),
    invoices: await loadInvoices(id),
    uninvoiced: await loadUninvoiced(id),
    total: valued.reduce((sum, line) => sum + BigInt(line.value), 0n).toString(),
  }
}

type Draft = Omit<NewPurchaseOrder, 'key'> & { number?: string; orderedOn?: string }

/** Orders from one supplier. Quantities in any unit of the item; prices for one of the line's unit. */
export async function createPurchase(
  tx: Tx,
  actor: Actor,
  edit: Given<Draft>,
): Promise<{ id: number; number: string }> {
  const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, edit.supplierId))
  if (!supplier) {
    throw new Refusal('invalid-input', 'Choose a supplier.', { supplierId: 'Choose a supplier.' })
  }
  if (supplier.retired) {
    refuseField(
      'supplierId',
      `${supplier.name} is retired. Choose another supplier, or make it active again in the Catalogue.`,
    )
  }
  const [site] = edit.siteId
    ? await rows(tx, sql`select 1 from sites where id = ${edit.siteId} and not retired`)
    : [true]
  if (!site) {
    refuseField('siteId', 'Choose where it is to be delivered.')
  }
  const orderedOn = edit.orderedOn ?? actor.today
  const paid = await paidIn(tx, supplier, orderedOn)
  const items = await loadMeasuredItems(
    tx,
    edit.lines.map((line) => line.itemId),
  )
  const lines = edit.lines.map((line, index) => {
    const item = items.get(line.itemId)
    if (!item) {
      throw new Refusal('invalid-input', 'Choose an item.', { [`lines.${index}.itemId`]: 'Choose an item.' })
    }
    requireUsable(item, `lines.${index}.itemId`, 'buy')
    if (line.dueOn < orderedOn) {
      refuseField(
        `lines.${index}.dueOn`,
        `It cannot come before the day on which it is ordered, ${printDay(orderedOn, actor.today, item.writing.dateFormat)}.`,
      )
    }
    const read = readQuantity(item, line.quantity, line.unit, `lines.${index}.quantity`)
    return {
      line: index + 1,
      itemId: line.itemId,
      entered: read.entered,
      unit: read.unit,
      price: line.price,
      quantity: asNumeric(read.quantity),
      dueOn: line.dueOn,
    }
  })
  const number = edit.number ?? (await nextNumber(tx, 'PO'))
  const [order] = await tx
    .insert(purchaseOrders)
    .values({ number, supplierId: edit.supplierId, siteId: edit.siteId ?? null, orderedOn, note: edit.note, ...paid })
    .returning()
  await tx.insert(purchaseLines).values(lines.map((line) => ({ ...line, orderId: order!.id })))
  const kept = await checkTerms(
    tx,
    edit.supplierId,
    orderedOn,
    lines.map((line) => ({ ...line, quantity: ratio(line.quantity) })),
  )
  await noteChange(tx, actor, { kind: 'purchase order', id: order!.id }, null, {
    ...edit,
    ...(kept.length > 0 && { [KEPT]: kept.map((concern) => concern.detail) }),
  })
  return { id: order!.id, number }
}

/** Gives up the rest of a line, or takes that back. */
export async function closeShort(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: { version: number; lineId: number; open: boolean },
): Promise<{ id: number }> {
  const order = await lockAsSeen(tx, 'purchase order', id, edit.version)
  const changed = await tx
    .update(purchaseLines)
    .set({ closedShort: !edit.open })
    .where(sql`${purchaseLines.id} = ${edit.lineId} and ${purchaseLines.orderId} = ${id}`)
    .returning()
  if (!changed[0]) {
    throw new Refusal('not-found', 'There is no such line on this order.')
  }
  await saveOrderStatus(tx, actor, order, {
    before: { closedShort: edit.open },
    after: { closedShort: !edit.open, line: changed[0].line },
  })
  return { id }
}

type PurchaseOrder = DocumentOf<'purchase order'>

/** Sets the order's status by its lines, and notes what was done to them. */
export async function saveOrderStatus(
  tx: Tx,
  actor: Actor,
  order: PurchaseOrder,
  noted: { readonly before?: object; readonly after: object },
): Promise<void> {
  const [lines] = await rows<{ isOpen: boolean }>(
    tx,
    sql`
      select exists (
        select 1
        from purchase_lines l
        where l.order_id = ${order.id} and l.received < l.quantity and not l.closed_short
      ) as "isOpen"`,
  )
  await saveDocument(tx, actor, 'purchase order', order, {
    set: { status: lines!.isOpen ? 'open' : 'done' },
    ...noted,
  })
}
