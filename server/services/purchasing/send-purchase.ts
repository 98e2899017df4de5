import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { lockAsSeen, saveDocument } from '../../documents'
import { loadCompany } from '../company/company'
import { sendLetter, type Letter } from '../company/mails'
import { requireApproved } from './approve'
import { asSent } from './letters'
import { totalOf } from './purchase-total'

interface ToSend {
  readonly key: string
  readonly version: number
  readonly to: string
  readonly subject: string
  readonly text: string
}

/**
 * Sends an order to its supplier: a letter with its files, in the act that notes what they were told.
 *
 * Errors: `stale-version`; `not-now` for one that is not open; `missing-right` where it has to be approved first;
 * `invalid-input` without an address.
 */
export async function sendPurchase(
  tx: Tx,
  actor: Actor,
  id: number,
  edit: ToSend,
  files: Letter['files'] = [],
): Promise<{ id: number; version: number }> {
  const order = await lockAsSeen(tx, 'purchase order', id, edit.version, ['open'])
  const approved = await requireApproved(tx, actor, { ...order, total: await totalOf(tx, id) })
  const [supplier] = await rows<{ name: string }>(tx, sql`select name from suppliers where id = ${order.supplierId}`)
  if (edit.to === '') {
    refuseField('to', `${supplier!.name} has no e-mail address. Type one here, or into the supplier’s details.`)
  }
  const lines = await rows<Parameters<typeof asSent>[0][number]>(
    tx,
    sql`
      select l.id, i.code, l.entered, l.unit, l.price, l.due_on as "dueOn", l.closed_short as "closedShort",
        l.replaces_line_id as "replacesLineId"
      from purchase_lines l
      join items i on i.id = l.item_id
      where l.order_id = ${id}
      order by l.line`,
  )
  await sendLetter(tx, {
    key: `purchase order ${id} ${edit.key}`,
    userId: null,
    to: edit.to,
    name: supplier!.name,
    from: (await loadCompany())?.name ?? '',
    day: actor.today,
    subject: edit.subject,
    body: edit.text,
    document: { kind: 'purchase order', id },
    files,
  })
  const { version } = await saveDocument(tx, actor, 'purchase order', order, {
    set: { sentOn: actor.today, sent: asSent(lines), ...approved },
    after: { sentTo: edit.to },
  })
  return { id, version }
}
