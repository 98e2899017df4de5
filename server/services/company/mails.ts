import { desc, eq, sql } from 'drizzle-orm'
import nodemailer from 'nodemailer'
import { db, rows, type Tx } from '~~/server/database/client'
import { mails } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { MailHead } from '~~/shared/company/mails'

/** A post office that sends nothing: it writes each message as it would go over the wire. */
const writer = nodemailer.createTransport({ streamTransport: true, buffer: true, newline: 'windows' })

export interface Letter {
  readonly key: string
  readonly userId: number
  readonly to: string
  readonly name: string
  readonly from: string
  readonly day: string
  readonly subject: string
  readonly body: string
}

/** Puts a letter into the simulated mailbox, once per key. Answers whether it was new. */
export async function sendLetter(tx: Tx, letter: Letter): Promise<boolean> {
  const [known] = await tx.select({ id: mails.id }).from(mails).where(eq(mails.key, letter.key))
  if (known) {
    return false
  }
  const written = await writer.sendMail({
    from: { name: letter.from, address: 'tsumiki@localhost' },
    to: { name: letter.name, address: letter.to },
    subject: letter.subject,
    text: letter.body,
    date: new Date(`${letter.day}T06:00:00Z`),
  })
  const made = await tx
    .insert(mails)
    .values({
      key: letter.key,
      userId: letter.userId,
      sentOn: letter.day,
      toAddress: letter.to,
      subject: letter.subject,
      body: letter.body,
      message: String(written.message),
    })
    .onConflictDoNothing()
    .returning({ id: mails.id })
  return made.length > 0
}

/** Letters to a person, the newest first. */
export function listMails(actor: Actor): Promise<MailHead[]> {
  return rows<MailHead>(
    db,
    sql`
      select id, sent_on as "sentOn", to_address as "to", subject, body
      from mails
      where user_id = ${actor.userId}
      order by id desc
      limit 100`,
  )
}

/** One of a person's letters as a file. Errors: `not-found`, also for another person's. */
export async function readMail(actor: Actor, id: number): Promise<{ name: string; text: string }> {
  const [mail] = await db.select().from(mails).where(eq(mails.id, id)).orderBy(desc(mails.id))
  if (!mail || mail.userId !== actor.userId) {
    throw new Refusal('not-found', 'There is no such letter in your mailbox.')
  }
  return { name: `${mail.subject.replaceAll(/[^\w -]+/g, '').trim()}.eml`, text: mail.message }
}
