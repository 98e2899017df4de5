import { sql } from 'drizzle-orm'
import { matchInvoice } from '~~/core/invoicing'
import { printAmount } from '~~/core/units/quantity'
import { ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { notReversed } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { MeasuredItem } from '../catalogue/measured-items'
import { isOfLine, RECEIPTS, SITE_OF_RECEIPT } from './receipts'

/** What an invoice says of goods that one move brought in. Amounts in minor units of the company's currency. */
export interface InvoicePart {
  readonly lineId: number
  readonly itemId: number
  readonly moveId: number
  readonly site: number
  readonly quantity: Ratio
  readonly amount: bigint
  /** How much more the goods cost by it. */
  readonly delta: bigint
  readonly chargeId?: number
}

interface Received {
  readonly moveId: number
  readonly site: number
  readonly quantity: Ratio
  readonly invoiced: Ratio
  readonly given: bigint
}

/** The receipts of a line that an invoice pays for. Errors: `invalid-input` where more is invoiced than came in. */
export async function matchLine(
  tx: Tx,
  line: { readonly id: number; readonly itemId: number },
  item: MeasuredItem,
  invoice: { readonly quantity: Ratio; readonly amount: bigint },
  path: string,
): Promise<readonly InvoicePart[]> {
  const { parts, left } = matchInvoice(invoice, await receiptsOf(tx, line.id))
  if (left.compare(ZERO) > 0) {
    const detail = `${item.code}: that is ${printAmount(left, 6, item.writing)} ${item.symbol} more than was received and not invoiced yet.`
    throw new Refusal('invalid-input', detail, { [path]: detail })
  }
  return parts.map(({ receipt, quantity, amount, delta }) => ({
    lineId: line.id,
    itemId: line.itemId,
    moveId: receipt.moveId,
    site: receipt.site,
    quantity,
    amount,
    delta,
  }))
}

/** The receipts of an order's line that stand, oldest first, with what of each is invoiced. */
export async function receiptsOf(tx: Tx, lineId: number): Promise<Received[]> {
  const found = await rows<Record<'quantity' | 'given' | 'invoiced', string> & { moveId: number; site: number }>(
    tx,
    sql`
      select
        m.id::int as "moveId", m.quantity, (m.value + m.variance)::text as given, ${SITE_OF_RECEIPT} as site,
        coalesce(
          (
            select sum(l.quantity)
            from invoice_lines l
            join supplier_invoices v on v.id = l.invoice_id
            where l.move_id = m.id and v.cancelled_id is null
          ),
          0
        )::text as invoiced
      from moves m
      join places p on p.id = m.to_place_id
      join places f on f.id = m.from_place_id and f.kind = 'supplier'
      join postings o on o.id = m.posting_id and o.kind in ${RECEIPTS}
      where ${isOfLine(sql`${lineId}`)}
        and m.basis = 'stated'
        and ${notReversed('o.id')}
      order by m.effective_on, m.id`,
  )
  return found.map((receipt) => ({
    ...receipt,
    quantity: ratio(receipt.quantity),
    invoiced: ratio(receipt.invoiced),
    given: BigInt(receipt.given),
  }))
}
