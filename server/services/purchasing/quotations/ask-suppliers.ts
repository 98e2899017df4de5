import { sql } from 'drizzle-orm'
import { printDay } from '~~/core/calendar/days'
import { db, rows, type Tx } from '~~/server/database/client'
import { Refusal, refuseField } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { AskSuppliers, QuotationRequest } from '~~/shared/purchasing/quotations'
import { lockAsSeen, saveDocument } from '../../../documents'
import { loadCompany, loadWriting } from '../../company/company'
import { sendLetter, type Letter } from '../../company/mails'

/** The letter that asks for quotations, or reminds of one that has not come; the workbook to fill in goes along. */
export async function letterOfRequest(
  request: Pick<QuotationRequest, 'number' | 'askedOn' | 'answerBy' | 'lines'>,
  isReminder: boolean,
): Promise<{ subject: string; text: string }> {
  const [company, writing] = await Promise.all([loadCompany(), loadWriting(db)])
  // Who reads it elsewhere and later wants the year.
  const day = (iso: string): string => printDay(iso, '', writing.dateFormat)
  const { number, askedOn, answerBy, lines } = request
  const count = lines.length === 1 ? 'one line' : `${lines.length} lines`
  const opening = isReminder
    ? `on ${day(askedOn)} we asked you to quote for our request ${number}, ${count}. We have not heard from you yet.`
    : `please quote for our request ${number}, ${count}, as attached, by ${day(answerBy)}.`
  return {
    subject: `${isReminder ? 'Reminder: request' : 'Request'} for quotation ${number}`,
    text: `Good day,

${opening}

You may fill in the workbook that comes along, and send it back. We want to know unit prices, also for larger quantities, the least you sell, your lead time, freight and other charges, and until when you hold your prices.

With kind regards
${company?.name ?? ''}`,
  }
}

/** The files of each supplier’s letter: the request to be read, and the workbook to be filled in. */
export type FilesOf = ReadonlyMap<number, Letter['files']>

/**
 * Asks suppliers for their quotations, each by a letter of its own; who was asked before is reminded.
 *
 * Errors: `stale-version`; `not-now` where the request is not open; `invalid-input` without an address, or where
 *         somebody has answered.
 */
export async function askSuppliers(
  tx: Tx,
  actor: Actor,
  id: number,
  { key, version, subject, text, letters }: AskSuppliers,
  files: FilesOf,
): Promise<{ id: number; version: number; sent: number }> {
  const request = await lockAsSeen(tx, 'quotation request', id, version, ['open'])
  const company = await loadCompany()
  for (const [index, { supplierId, to }] of letters.entries()) {
    const quotation = await requireWaiting(tx, id, supplierId)
    if (to === '') {
      refuseField(`letters.${index}.to`, `${quotation.name} has no e-mail address. Type one.`)
    }
    await sendLetter(tx, {
      key: `quotation request ${id} ${supplierId} ${key}`,
      userId: null,
      to,
      name: quotation.name,
      from: company?.name ?? '',
      day: actor.today,
      subject,
      body: text,
      document: { kind: 'quotation request', id },
      files: files.get(supplierId) ?? [],
    })
    await rows(
      tx,
      sql`
        update quotations
        set
          sent_on = coalesce(sent_on, ${actor.today}),
          reminded_on = case when sent_on is null then null else ${actor.today}::date end
        where id = ${quotation.id}`,
    )
  }
  const saved = await saveDocument(tx, actor, 'quotation request', request, { set: {}, after: { sentTo: letters } })
  return { id, version: saved.version, sent: letters.length }
}

async function requireWaiting(tx: Tx, requestId: number, supplierId: number): Promise<{ id: number; name: string }> {
  const [quotation] = await rows<{ id: number; name: string; answeredOn: string | null }>(
    tx,
    sql`
      select q.id, s.name, q.answered_on as "answeredOn"
      from quotations q
      join suppliers s on s.id = q.supplier_id
      where q.request_id = ${requestId} and q.supplier_id = ${supplierId}`,
  )
  if (!quotation) {
    throw new Refusal('invalid-input', 'One of these suppliers is not asked. Reload the page.')
  }
  if (quotation.answeredOn !== null) {
    throw new Refusal('not-now', `${quotation.name} has answered already. Reload the page.`)
  }
  return quotation
}
