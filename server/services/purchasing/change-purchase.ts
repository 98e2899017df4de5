import { eq, sql } from 'drizzle-orm'
import { ratio, toText } from '~~/core/units/exact'
import type { Given } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { purchaseLines } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { ChangedPurchaseOrder } from '~~/shared/purchasing/requests'
import { lockAsSeen, saveDocument } from '../../documents'
import { checkTerms, KEPT } from './check-terms'
import { statusByLines } from './end-purchase'
import { linesToOrder, requireSite, type WantedLine } from './order-lines'

interface BoundLine {
  readonly id: number
  readonly itemId: number
  readonly entered: string
  readonly unit: string
  readonly price: string
  readonly received: string
  readonly dueOn: string
  readonly code: string
  readonly symbol: string
  /** Invoices, returns or what came instead name it, though they may be taken back. */
  readonly isNamed: boolean
}

/**
 * Changes an order at any time: lines are added, changed, split and taken off. What has come of a line stays: it keeps
 * its item and its unit, and cannot fall below that. A line that is changed is not confirmed any more.
 *
 * Errors: `stale-version`; `not-now` for an order that is cancelled; `invalid-input` beside the field of a line.
 */
export async function changePurchase(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: ChangeEdit,
): Promise<{ id: number; version: number }> {
  const before = await lockAsSeen(tx, 'purchase order', id, edit.version, ['open', 'done'])
  await requireSite(tx, edit.siteId ?? null)
  const bound = await rows<BoundLine>(
    tx,
    sql`
      select
        l.id, l.item_id as "itemId", l.entered, l.unit, l.price, trim_scale(l.received)::text as received,
        l.due_on as "dueOn", i.code, u.symbol,
        exists (select 1 from invoice_lines v where v.purchase_line_id = l.id)
          or exists (select 1 from supplier_returns r where r.line_id = l.id)
          or exists (select 1 from purchase_lines s where s.replaces_line_id = l.id) as "isNamed"
      from purchase_lines l
      join items i on i.id = l.item_id
      join units u on u.code = i.stock_unit
      where l.order_id = ${id} and l.replaces_line_id is null
      order by l.line`,
  )
  const settled = new Set(edit.lines.flatMap((line, index) => (isBound(bound, line) ? [index] : [])))
  const wanted = await linesToOrder(tx, edit.lines, before.orderedOn, actor.today, settled)
  requireReceivedKept(bound, wanted, edit.lines)
  await replaceLines(tx, id, bound, wanted, edit.lines)
  const kept = await checkTerms(
    tx,
    before.supplierId,
    before.orderedOn,
    wanted.map((line) => ({ ...line, quantity: ratio(line.quantity) })),
  )
  const { note, paymentTerms, deliveryTerms, charges } = edit
  const { version } = await saveDocument(tx, actor, 'purchase order', before, {
    set: {
      status: await statusByLines(tx, id),
      siteId: edit.siteId ?? null,
      note,
      paymentTerms,
      deliveryTerms,
      charges: charges ?? before.charges,
    },
    before: {
      lines: bound.map(({ id: line, itemId, entered, unit, price, dueOn }) => ({
        id: line,
        itemId,
        quantity: entered,
        unit,
        price,
        dueOn,
      })),
    },
    after: {
      lines: edit.lines,
      ...(kept.length > 0 && { [KEPT]: kept.map((concern) => concern.detail) }),
    },
  })
  return { id, version }
}

type GivenLine = Given<ChangedPurchaseOrder>['lines'][number]
type LineEdit = Omit<GivenLine, 'discount'> & Partial<Pick<GivenLine, 'discount'>>
/** Charges that are not named stay. */
type ChangeEdit = Omit<Given<ChangedPurchaseOrder>, 'lines' | 'charges'> &
  Partial<Pick<ChangedPurchaseOrder, 'charges'>> & { readonly lines: readonly LineEdit[] }

const isBound = (bound: readonly BoundLine[], line: LineEdit): boolean =>
  bound.some((old) => old.id === line.id && old.itemId === line.itemId)

/** Refuses lines that fall below what has come of them, and lines that are of another order. */
function requireReceivedKept(
  bound: readonly BoundLine[],
  wanted: readonly WantedLine[],
  lines: readonly LineEdit[],
): void {
  for (const old of bound.filter((line) => !ratio(line.received).equals(0))) {
    const index = lines.findIndex((line) => line.id === old.id)
    const now = index < 0 ? null : wanted[index]!
    if (now?.itemId !== old.itemId || ratio(now.quantity).compare(ratio(old.received)) < 0) {
      const detail = `${toText(ratio(old.received))} ${old.symbol} of ${old.code} have come already. Keep at least that much on its line.`
      throw new Refusal('invalid-input', detail, { [index < 0 ? 'lines' : `lines.${index}.quantity`]: detail })
    }
  }
  const kept = new Set(lines.map((line) => line.id))
  const named = bound.find((line) => line.isNamed && !kept.has(line.id))
  if (named) {
    const detail = `Invoices, returns or goods that came instead name the line of ${named.code}. Close it short instead of taking it off.`
    throw new Refusal('invalid-input', detail, { lines: detail })
  }
  const known = new Set(bound.map((line) => line.id))
  if (lines.some((line) => line.id !== null && !known.has(line.id))) {
    throw new Refusal('invalid-input', 'A line of this order is gone. Reload the page.')
  }
}

/** Lines keep their identity where they stay; numbers stand aside first, since no two lines may have the same. */
async function replaceLines(
  tx: Tx,
  orderId: number,
  bound: readonly BoundLine[],
  wanted: readonly WantedLine[],
  lines: readonly LineEdit[],
): Promise<void> {
  await rows(tx, sql`update purchase_lines set line = -id where order_id = ${orderId}`)
  const kept = new Set(lines.map((line) => line.id))
  for (const old of bound.filter((line) => !kept.has(line.id))) {
    await tx.delete(purchaseLines).where(eq(purchaseLines.id, old.id))
  }
  for (const [index, line] of wanted.entries()) {
    const old = bound.find((entry) => entry.id === lines[index]!.id)
    if (!old) {
      await tx.insert(purchaseLines).values({ ...line, line: index + 1, orderId })
    } else {
      const changed = isSame(old, line) ? {} : { ...line, confirmedOn: null, asked: null, closedShort: false }
      await tx
        .update(purchaseLines)
        .set({ ...changed, line: index + 1 })
        .where(eq(purchaseLines.id, old.id))
    }
  }
  await moveSubstitutesBehind(tx, orderId)
}

/** What came instead of something stands behind the lines that were ordered. */
const moveSubstitutesBehind = (tx: Tx, orderId: number): Promise<unknown> =>
  rows(
    tx,
    sql`
      update purchase_lines l
      set line = b.line
      from (
        select
          s.id,
          (select count(*) from purchase_lines o where o.order_id = ${orderId} and o.replaces_line_id is null) +
            row_number() over (order by s.id) as line
        from purchase_lines s
        where s.order_id = ${orderId} and s.replaces_line_id is not null
      ) b
      where b.id = l.id`,
  )

const isSame = (old: BoundLine, line: WantedLine): boolean =>
  old.itemId === line.itemId &&
  old.unit === line.unit &&
  old.dueOn === line.dueOn &&
  ratio(old.entered).equals(ratio(line.entered)) &&
  ratio(old.price).equals(ratio(line.price))
