import { eq } from 'drizzle-orm'
import { toMajor } from '~~/core/money'
import { ratio, toDecimal, toText, type Ratio } from '~~/core/units/exact'
import type { Reader, Tx } from '~~/server/database/client'
import { company, users } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { isAllowed, isRole } from '~~/shared/company/rights'
import { lockAsSeen, saveDocument } from '../../documents'
import { totalOf } from './purchase-total'

/** Decimals with which a sum is kept that was turned into another currency. */
const SIX = 6

interface Summed {
  /** Minor units of the order’s currency. */
  readonly total: bigint
  /** What one of that currency is worth. */
  readonly rate: string
  readonly approvedTotal: string | null
}

/**
 * The sum above which an order has to be approved before it is sent, in the company’s currency; null where it is below
 * that, or approved as it is.
 */
export async function approvalWanted(reader: Reader, order: Summed): Promise<string | null> {
  const [own] = await reader.select({ above: company.approveAbove }).from(company)
  const sum = inOwnCurrency(order)
  const isBelow = own?.above == null || sum.compare(ratio(own.above)) <= 0
  const isApproved = order.approvedTotal !== null && ratio(toDecimal(sum, SIX)).compare(ratio(order.approvedTotal)) <= 0
  return isBelow || isApproved ? null : toText(ratio(own.above!))
}

const inOwnCurrency = ({ total, rate }: Pick<Summed, 'total' | 'rate'>): Ratio => toMajor(total).mul(ratio(rate))

/** Approves an order up to the sum that it comes to now. */
export async function approvePurchase(
  tx: Tx,
  actor: Actor,
  id: number,
  { version }: { readonly version: number },
): Promise<{ id: number; version: number }> {
  const order = await lockAsSeen(tx, 'purchase order', id, version, ['open'])
  const approvedTotal = toDecimal(inOwnCurrency({ ...order, total: await totalOf(tx, id) }), SIX)
  const saved = await saveDocument(tx, actor, 'purchase order', order, {
    set: { approvedTotal, approvedBy: actor.userId },
  })
  return { id, ...saved }
}

/**
 * What an order has of approval once somebody sends it: who may approve does so by sending.
 *
 * Errors: `missing-right` where it has to be approved first.
 */
export async function requireApproved(
  tx: Tx,
  actor: Actor,
  order: Summed & { readonly number: string },
): Promise<{ approvedTotal?: string; approvedBy?: number }> {
  const above = await approvalWanted(tx, order)
  if (above === null) {
    return {}
  }
  if (isAllowed(actor, 'approve')) {
    return { approvedTotal: toDecimal(inOwnCurrency(order), SIX), approvedBy: actor.userId }
  }
  const people = await tx.select().from(users).where(eq(users.active, true))
  const able = people.filter(({ role, rights }) => isRole(role) && isAllowed({ role, rights }, 'approve'))
  throw new Refusal(
    'missing-right',
    `${order.number} comes to more than ${above} and has to be approved before it is sent. ${able.map(({ name }) => name).join(', ')} may do that.`,
  )
}
