import { eq, sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { blanketOrders } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { exactIfPlain } from '../catalogue/measured-items'
import { createBlanket } from '../purchasing/blankets/create-blanket'
import type { Row } from './import-stock'

interface Find {
  readonly item: (code: string | undefined) => Promise<number>
  readonly supplier: (code: string | undefined) => Promise<number>
}

/** What is agreed with a supplier over a period: a row for each item. Errors: `invalid-input`. */
export async function importBlanket(
  tx: Tx,
  actor: Actor,
  number: string,
  lines: readonly Row[],
  find: Find,
): Promise<void> {
  const head = lines[0]!
  const agreed = []
  for (const row of lines) {
    agreed.push({
      itemId: await find.item(row.item),
      quantity: exactIfPlain(row.quantity!),
      unit: row.unit!,
      price: row.price!,
    })
  }
  const { id } = await createBlanket(tx, actor, {
    supplierId: await find.supplier(head.supplier),
    reference: head.reference ?? '',
    fromOn: head.from!,
    untilOn: head.until!,
    note: head.note ?? '',
    lines: agreed,
  })
  await tx.update(blanketOrders).set({ number }).where(eq(blanketOrders.id, id))
}

/** Lines of an order that name a blanket order call off from its line of their item. Errors: `invalid-input`. */
export async function linkBlankets(tx: Tx, orderId: number, lines: readonly Row[]): Promise<void> {
  for (const [index, { blanket }] of lines.entries()) {
    if (!blanket) {
      continue
    }
    const linked = await rows(
      tx,
      sql`
        update purchase_lines p
        set blanket_line_id = l.id
        from blanket_lines l
        join blanket_orders b on b.id = l.blanket_id and b.number = ${blanket}
        where p.order_id = ${orderId} and p.line = ${index + 1} and l.item_id = p.item_id
        returning p.id`,
    )
    if (linked.length === 0) {
      throw new Refusal('invalid-input', `There is no blanket order “${blanket}” of that item.`)
    }
  }
}
