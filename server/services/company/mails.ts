import { desc, eq, sql } from 'drizzle-orm'
import nodemailer from 'nodemailer'
import { db, rows, type Reader, type Tx } from '~~/server/database/client'
import { mails } from '~~/server/database/schema'
import { GivenUp } from '~~/server/jobs/given-up'
import { enqueue } from '~~/server/jobs/queue'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { MailHead } from '~~/shared/company/mails'

/** A post office that sends nothing: it writes each message as it would go over the wire. */
const writer = nodemailer.createTransport({ streamTransport: true, buffer: true, newline: 'windows' })
/** Milliseconds that a mail server may take to answer, each time. */
const PATIENCE = 20_000

const mailServer = (): string | undefined => process.env.SMTP_URL
const sender = (): string => process.env.MAIL_FROM ?? 'tsumiki@localhost'

export interface Letter {
  readonly key: string
  /** Whose mailbox it lies in; null where it goes to somebody outside. */
  readonly userId: number | null
  readonly to: string
  readonly name: string
  readonly from: string
  readonly day: string
  readonly subject: string
  readonly body: string
  /** The document that it goes with, and the files that go along. */
  readonly document?: { readonly kind: string; readonly id: number }
  readonly files?: readonly { readonly name: string; readonly content: Buffer; readonly type: string }[]
}

/**
 * Writes a letter with the act that causes it, once per key. It stays in the simulated mailbox, or is sent by the mail
 * server of the setting SMTP_URL as soon as the act is done. Answers whether it was new.
 */
export async function sendLetter(tx: Tx, letter: Letter): Promise<boolean> {
  const [known] = await tx.select({ id: mails.id }).from(mails).where(eq(mails.key, letter.key))
  if (known) {
    return false
  }
  const written = await writer.sendMail({
    from: { name: letter.from, address: sender() },
    to: { name: letter.name, address: letter.to },
    subject: letter.subject,
    text: letter.body,
    date: new Date(`${letter.day}T06:00:00Z`),
    attachments: letter.files?.map(({ name, content, type }) => ({ filename: name, content, contentType: type })),
  })
  const state = mailServer() === undefined ? 'kept' : 'waiting'
  const [made] = await tx
    .insert(mails)
    .values({
      key: letter.key,
      userId: letter.userId,
      entity: letter.document?.kind,
      entityId: letter.document?.id,
      sentOn: letter.day,
      toAddress: letter.to,
      subject: letter.subject,
      body: letter.body,
      message: String(written.message),
      state,
    })
    .onConflictDoNothing()
    .returning({ id: mails.id })
  if (made && state === 'waiting') {
    await enqueue(tx, 'letter', { mailId: made.id }, String(made.id))
  }
  return made !== undefined
}

/** Has every letter sent that waits and is not worked on: those of a restored backup, or of a time without a queue. */
export async function enqueueWaitingLetters(reader: Reader): Promise<void> {
  const left = await rows<{ id: number }>(
    reader,
    sql`
      select m.id
      from mails m
      where m.state = 'waiting'
        and not exists (
          select 1 from jobs.job j
          where j.name = 'letter' and j.singleton_key = m.id::text and j.state in ('created', 'retry', 'active')
        )
      order by m.id
      limit 500`,
  )
  for (const { id } of left) {
    await enqueue(reader, 'letter', { mailId: id }, String(id))
  }
}

/**
 * Gives a letter to the mail server, as it was written. What the server says for good (a code of 500 and more, RFC
 * 5321) is not tried again.
 */
export async function passOn(mailId: number, isLastTry: boolean): Promise<void> {
  const [mail] = await db.select().from(mails).where(eq(mails.id, mailId))
  if (mail?.state !== 'waiting') {
    return
  }
  const url = mailServer()
  if (url === undefined) {
    await db.update(mails).set({ state: 'kept', problem: '' }).where(eq(mails.id, mailId))
    return
  }
  const limits = { connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE }
  const transport = nodemailer.createTransport(url, limits as object)
  try {
    await transport.sendMail({ envelope: { from: sender(), to: mail.toAddress }, raw: mail.message })
    await db
      .update(mails)
      .set({ state: 'sent', problem: '', passedOnAt: sql`now()` })
      .where(eq(mails.id, mailId))
  } catch (error) {
    const { message, responseCode } = error as Error & { responseCode?: number }
    const isFinal = isLastTry || (responseCode ?? 0) >= 500
    await db
      .update(mails)
      .set({ state: isFinal ? 'failed' : 'waiting', problem: message })
      .where(eq(mails.id, mailId))
    throw isFinal ? new GivenUp(message) : error
  } finally {
    transport.close()
  }
}

/** Sends a letter once more that could not be sent. Errors: `not-found`; `not-now` where it was sent, or stays here. */
export async function sendAgain(tx: Tx, actor: Actor, id: number): Promise<{ id: number }> {
  const [mail] = await tx.select({ userId: mails.userId }).from(mails).where(eq(mails.id, id))
  if (mail?.userId !== actor.userId) {
    throw noSuchLetter()
  }
  return sendAgainFor(tx, id)
}

/** The same for whoever may send it, as the caller has made sure. Errors: `not-now`. */
export async function sendAgainFor(tx: Tx, id: number): Promise<{ id: number }> {
  const [mail] = await tx.select().from(mails).where(eq(mails.id, id)).for('update')
  if (mail?.state !== 'failed') {
    throw new Refusal('not-now', 'Only a letter that could not be sent is sent again.')
  }
  await tx.update(mails).set({ state: 'waiting', problem: '' }).where(eq(mails.id, id))
  await enqueue(tx, 'letter', { mailId: id }, String(id))
  return { id }
}

/** Letters to a person, the newest first. */
export function listMails(actor: Actor): Promise<MailHead[]> {
  return rows<MailHead>(
    db,
    sql`
      select
        id, sent_on as "sentOn", to_address as "to", subject, body, state, problem, passed_on_at as "passedOnAt"
      from mails
      where user_id = ${actor.userId}
      order by id desc
      limit 100`,
  )
}

const noSuchLetter = (): Refusal => new Refusal('not-found', 'There is no such letter in your mailbox.')

/** One of a person's letters as a file. Errors: `not-found`, also for another person's. */
export async function readMail(actor: Actor, id: number): Promise<{ name: string; text: string }> {
  const [mail] = await db.select().from(mails).where(eq(mails.id, id)).orderBy(desc(mails.id))
  if (!mail || mail.userId !== actor.userId) {
    throw noSuchLetter()
  }
  return { name: `${mail.subject.replaceAll(/[^\w -]+/g, '').trim()}.eml`, text: mail.message }
}
