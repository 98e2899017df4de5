import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { AllocatedOrder } from '~~/shared/demand/requests'
import { allocate } from './dispatch'

/**
 * Sets goods aside for all open orders that are due by a day, one after the other: soonest due first, or highest
 * priority and then soonest due. Where there is not enough, the later ones go without; orders for which nothing is free
 * are passed over.
 */
export async function allocateMany(
  tx: Tx,
  actor: Actor,
  rule: 'due date' | 'priority',
  untilOn: string | null,
): Promise<{ orders: AllocatedOrder[] }> {
  const open = await rows<{
    id: number
    number: string
    customer: string
    dueOn: string
    priority: number
    version: number
  }>(
    tx,
    sql`
      select o.id, o.number, c.name as customer, o.due_on as "dueOn", o.priority, o.version
      from sales_orders o
      join customers c on c.id = o.customer_id
      where o.status = 'open' and (${untilOn}::date is null or o.due_on <= ${untilOn})
      order by ${rule === 'priority' ? sql`o.priority desc, ` : sql``} o.due_on, o.priority desc, o.id`,
  )
  const orders: AllocatedOrder[] = []
  for (const { version, ...order } of open) {
    try {
      orders.push({
        ...order,
        lines: (await tx.transaction((inner) => allocate(inner, actor, order.id, version))).lines,
      })
    } catch (error) {
      // Nothing free, or everything set aside: the next one.
      if (!(error instanceof Refusal) || !['short', 'not-now'].includes(error.code)) {
        throw error
      }
    }
  }
  return { orders }
}
