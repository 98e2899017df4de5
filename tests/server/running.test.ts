import { createHmac } from 'node:crypto'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'
import { eq, sql } from 'drizzle-orm'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { db, pool, rows } from '~~/server/database/client'
import { mails } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { HANDLERS } from '~~/server/jobs/handlers'
import { Workers } from '~~/server/jobs/workers'
import { passOn, sendAgain, sendLetter, type Letter } from '~~/server/services/company/mails'
import { changePerson } from '~~/server/services/people/people'
import { findKey, endKey, listKeys, makeKey } from '~~/server/services/running/api-keys'
import { examine } from '~~/server/services/running/doctor'
import { signCall } from '~~/server/services/running/hook-calls'
import { callAgain, listCalls, listHooks, makeHook } from '~~/server/services/running/hooks'
import { listWork, workAgain, workStopped } from '~~/server/services/running/work'
import { isAllowed } from '~~/shared/company/rights'
import { Page } from '~~/shared/primitives'
import { NewHook, NewKey } from '~~/shared/running/requests'
import { owner, refusalOf, withDemo } from './database'
import { make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

const begun: Workers[] = []
async function work(...names: ('letter' | 'hook-calls' | 'outgoing')[]): Promise<Workers> {
  const workers = new Workers(HANDLERS, names)
  begun.push(workers)
  await workers.start()
  return workers
}
afterEach(async () => {
  for (const workers of begun.splice(0)) {
    await workers.stop()
  }
})

describe('keys for scripts', () => {
  const made = (more: object = {}): Promise<{ token: string }> =>
    inTransaction((tx) => makeKey(tx, owner, NewKey.parse({ name: 'Shop', rights: ['see', 'stock'], ...more })))

  it('a key opens what it is limited to, for whoever made it; that it was used is noted', async () => {
    const { token } = await made()
    const holder = (await findKey(token, '10.0.0.7'))!
    expect(holder).toMatchObject({ id: owner.userId, name: owner.name, limitedTo: ['see', 'stock'] })
    expect([isAllowed(holder, 'stock'), isAllowed(holder, 'buy')]).toEqual([true, false])
    expect((await listKeys())[0]).toMatchObject({ name: 'Shop', usedFrom: '10.0.0.7', endedAt: null })
    // Only its digest is kept.
    const [kept] = await rows<{ text: string }>(db, sql`select row_to_json(k)::text as text from api_keys k`)
    expect(kept!.text).not.toContain(token)
    expect(await findKey(`${token}x`, '')).toBeNull()
  })
  it('an ended key, one that is over, and one whose person has left open nothing', async () => {
    const [first, second, third] = [await made(), await made({ expiresOn: '2026-10-05' }), await made()]
    const [{ id }] = (await rows<{ id: number }>(
      db,
      sql`select min(id) as id from api_keys where ended_at is null`,
    )) as [{ id: number }]
    await inTransaction((tx) => endKey(tx, owner, id))
    expect(await findKey(second.token, '')).not.toBeNull()
    await db.execute(sql`update api_keys set expires_on = '2026-10-04' where expires_on is not null`)
    expect(await findKey(second.token, '')).toBeNull()
    expect(await findKey(first.token, '')).not.toBeNull()
    await db.execute(sql`update users set active = false where id = ${owner.userId}`)
    expect(await findKey(third.token, '')).toBeNull()
    await db.execute(sql`update users set active = true where id = ${owner.userId}`)
  })
  it('nobody makes a key that opens more than they may, or that is over', async () => {
    const maker = { ...owner, role: 'maker' as const }
    const more = NewKey.parse({ name: 'More', rights: ['see', 'buy'] })
    expect((await refusalOf((tx) => makeKey(tx, maker, more))).problem).toMatchObject({
      status: 403,
      detail: 'You may not do this yourself: buy.',
    })
    const old = NewKey.parse({ name: 'Old', rights: ['see'], expiresOn: '2026-10-04' })
    expect((await refusalOf((tx) => makeKey(tx, owner, old))).problem.fields).toEqual({
      expiresOn: 'That day is over. Choose a later one, or none.',
    })
  })
})

describe('web hooks', () => {
  interface Received {
    readonly headers: IncomingMessage['headers']
    readonly body: string
  }
  const received: Received[] = []
  /** What the other program answers, one after the other; 204 where nothing is said. */
  const answers: number[] = []
  let receiver: Server
  const address = (): string => `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/told`
  const told = () => received.map(({ body }) => JSON.parse(body) as Told)
  interface Told {
    readonly event: string
    readonly posting: { readonly kind: string; readonly label: string }
    readonly moves: readonly object[]
  }

  beforeEach(async () => {
    received.length = 0
    answers.length = 0
    await rows(db, sql`delete from web_hooks`)
    await rows(db, sql`delete from jobs.job`)
    receiver = createServer((request, response) => {
      let body = ''
      request.on('data', (chunk: Buffer) => (body += String(chunk)))
      request.on('end', () => {
        received.push({ headers: request.headers, body })
        response.writeHead(answers.shift() ?? 204).end()
      })
    })
    await new Promise<void>((resolve) => receiver.listen(0, '127.0.0.1', resolve))
  })
  afterEach(() => new Promise((resolve) => receiver.close(resolve)))
  const hook = (more: object = {}): Promise<{ id: number; secret: string }> =>
    inTransaction((tx) =>
      makeHook(tx, owner, NewHook.parse({ name: 'Shop', url: address(), events: ['stock'], ...more })),
    )

  it('a posting is told with what moved, signed, as soon as it is there; one that failed is not', async () => {
    const { secret } = await hook()
    const item = await make('HOOK-1')
    await expect(
      inTransaction(async (tx) => {
        await tx.execute(
          sql`insert into postings (kind, label, effective_on, user_id) values ('correction', 'never', '2026-10-05', 1)`,
        )
        throw new Error('undone')
      }),
    ).rejects.toThrow('undone')
    await work('hook-calls', 'outgoing')
    await open(item, '12', '2.50')
    await expect.poll(() => received.length, { timeout: 10_000 }).toBe(1)
    const [{ headers, body }] = received as [Received]
    expect(JSON.parse(body)).toMatchObject({
      event: 'stock',
      posting: { kind: 'opening stock', effectiveOn: '2026-10-05', by: 'Ines Hartwell', takesBack: null },
      moves: [{ item: 'HOOK-1', quantity: '12', unit: 'pc', to: 'SHELF-A', toStatus: 'available' }],
    })
    const signed = createHmac('sha256', Buffer.from(secret.slice('whsec_'.length), 'base64'))
      .update(`${headers['webhook-id'] as string}.${headers['webhook-timestamp'] as string}.${body}`)
      .digest('base64')
    expect(headers['webhook-signature']).toBe(`v1,${signed}`)
  })
  it('whoever fails twice is told once, with the same text each time', async () => {
    const { id } = await hook()
    answers.push(500, 503)
    const item = await make('HOOK-2')
    await work('hook-calls', 'outgoing')
    await open(item, '1', '1')
    await expect.poll(async () => (await listCalls(id))[0]?.state, { timeout: 30_000 }).toBe('delivered')
    expect(received.map(({ body }) => body)).toEqual(Array(3).fill(received[0]!.body))
    expect(new Set(received.map(({ headers }) => headers['webhook-id'])).size).toBe(1)
    expect(await listCalls(id)).toMatchObject([{ tries: 3, status: 204, problem: '' }])
  })
  it('calls about one thing arrive in the order in which they happened, others do not wait for them', async () => {
    await hook()
    answers.push(500)
    const items = [await make('HOOK-3'), await make('HOOK-4')] as const
    for (const item of items) {
      await open(item, '1', '1')
    }
    // Both about one document: the second waits for the first, which fails once.
    await rows(db, sql`update hook_calls set about = 'sales order 1'`)
    await open(await make('HOOK-5'), '1', '1')
    await work('hook-calls', 'outgoing')
    await expect.poll(() => received.length, { timeout: 30_000 }).toBe(4)
    const codes = told().map(({ moves }) => (moves[0] as { item: string }).item)
    expect(codes.filter((code) => code !== 'HOOK-5')).toEqual(
      codes.indexOf('HOOK-5') === 0 ? ['HOOK-3', 'HOOK-4'] : ['HOOK-3', 'HOOK-3', 'HOOK-4'],
    )
  })
  it('one that is given up says so, and is sent again when somebody asks', async () => {
    const { id } = await hook()
    await open(await make('HOOK-6'), '1', '1')
    answers.push(410)
    await work('hook-calls', 'outgoing')
    await expect.poll(() => received.length, { timeout: 10_000 }).toBe(1)
    await expect.poll(async () => (await listCalls(id))[0]!.problem).toBe('It answered 410.')
    await rows(db, sql`update jobs.job set retry_limit = retry_count + 1 where name = 'hook-calls'`)
    answers.push(410)
    await expect.poll(async () => (await listCalls(id))[0]!.state, { timeout: 20_000 }).toBe('failed')
    expect(await listHooks()).toMatchObject([{ failed: 1, waiting: 0, problem: 'It answered 410.' }])
    await inTransaction(async (tx) => callAgain(tx, id, (await listCalls(id))[0]!.id))
    await expect.poll(async () => (await listCalls(id))[0]!.state, { timeout: 20_000 }).toBe('delivered')
  })
  it('a web hook that is not told, and events that it did not ask for, make no calls', async () => {
    const { id } = await hook({ events: ['shipments', 'receipts', 'orders'] })
    await open(await make('HOOK-7'), '1', '1')
    expect(await listCalls(id)).toEqual([])
  })
  /* Standard Webhooks 1.0, specification, “Signature scheme”: secret, id, time stamp and body of its example. */
  it('the signature is that of the standard’s example', () => {
    const body = '{"test": 2432232314}'
    expect(signCall('whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw', 'msg_p5jXN8AQM9LWM0D4loKWxJek', 1614265330, body)).toBe(
      'v1,g0hM9SsE+OTPJTGt/tmIKtSyZlE3uFJELVlNIOLJ1OE=',
    )
  })
})

describe('letters by a mail server', () => {
  const taken: string[] = []
  /** What the server says to a message; it takes it where nothing is said. */
  const says: { code: number; message: string }[] = []
  let server: SMTPServer
  beforeEach(async () => {
    taken.length = 0
    says.length = 0
    server = new SMTPServer({
      disabledCommands: ['AUTH', 'STARTTLS'],
      onData(stream, _, done) {
        let text = ''
        stream.on('data', (chunk: Buffer) => (text += String(chunk)))
        stream.on('end', () => {
          const no = says.shift()
          if (no) {
            done(Object.assign(new Error(no.message), { responseCode: no.code }))
          } else {
            taken.push(text)
            done()
          }
        })
      },
    })
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    process.env.SMTP_URL = `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}`
  })
  afterEach(async () => {
    delete process.env.SMTP_URL
    await new Promise<void>((resolve) => server.close(resolve))
  })
  let count = 0
  const letter = (more: Partial<Letter> = {}): Letter => ({
    key: `test ${++count}`,
    userId: owner.userId,
    to: 'ines@hollowmere.example',
    name: 'Ines Hartwell',
    from: 'Hollowmere',
    day: '2026-10-05',
    subject: 'Größe 12 × 12',
    body: 'Ça va.',
    ...more,
  })
  const send = async (more: Partial<Letter> = {}): Promise<number> => {
    const own = letter(more)
    await inTransaction((tx) => sendLetter(tx, own))
    return (await db.select({ id: mails.id }).from(mails).where(eq(mails.key, own.key)))[0]!.id
  }
  const stateOf = async (id: number): Promise<{ state: string; problem: string }> =>
    (await db.select({ state: mails.state, problem: mails.problem }).from(mails).where(eq(mails.id, id)))[0]!

  it('a letter goes out after the act that caused it, as it was written, once', async () => {
    const files = [{ name: 'order.txt', content: Buffer.from('12 boards'), type: 'text/plain' }]
    await expect(
      inTransaction(async (tx) => {
        await sendLetter(tx, letter({ key: 'undone' }))
        throw new Error('undone')
      }),
    ).rejects.toThrow('undone')
    const id = await send({ files })
    expect(await stateOf(id)).toEqual({ state: 'waiting', problem: '' })
    await work('letter')
    await expect.poll(async () => (await stateOf(id)).state, { timeout: 10_000 }).toBe('sent')
    expect(taken).toHaveLength(1)
    expect(taken[0]).toContain('To: Ines Hartwell <ines@hollowmere.example>')
    expect(taken[0]).toContain(Buffer.from('12 boards').toString('base64'))
    await passOn(id, false)
    expect(taken).toHaveLength(1)
  })
  it('what the server refuses for now is tried again, what it refuses for good is not', async () => {
    says.push({ code: 451, message: 'Try later' }, { code: 550, message: 'No such mailbox' })
    const id = await send()
    await expect(passOn(id, false)).rejects.toThrow('Try later')
    expect(await stateOf(id)).toEqual({ state: 'waiting', problem: expect.stringContaining('Try later') as string })
    await expect(passOn(id, false)).rejects.toThrow('No such mailbox')
    expect((await stateOf(id)).state).toBe('failed')
    await inTransaction((tx) => sendAgain(tx, owner, id))
    await passOn(id, false)
    expect(await stateOf(id)).toEqual({ state: 'sent', problem: '' })
    expect((await refusalOf((tx) => sendAgain(tx, owner, id))).message).toContain(
      'Only a letter that could not be sent',
    )
  })
  it('where the mail server does not answer it waits, and is given up at the last try', async () => {
    const id = await send()
    process.env.SMTP_URL = 'smtp://127.0.0.1:1'
    await expect(passOn(id, false)).rejects.toThrow()
    expect((await stateOf(id)).state).toBe('waiting')
    await expect(passOn(id, true)).rejects.toThrow()
    expect((await stateOf(id)).state).toBe('failed')
  })
  it('without a mail server it stays in the mailbox', async () => {
    delete process.env.SMTP_URL
    expect((await stateOf(await send())).state).toBe('kept')
  })
})

describe('what the owner sees of it', () => {
  it('work that failed or was stopped is begun again; what is over is not stopped', async () => {
    await rows(db, sql`delete from jobs.job`)
    await rows(
      db,
      sql`
        insert into jobs.job (name, state, data, output, completed_on, policy, singleton_key)
        values
          ('letter', 'failed', '{"mailId": 1}', '{"problem": "No such mailbox"}', now(), 'stately', '1'),
          ('plan', 'created', '{"planId": 1}', null, null, 'stately', '1'),
          ('low-stock', 'completed', null, null, now(), 'stately', '')`,
    )
    const list = async () => (await listWork(Page.parse({ sort: 'name' }))).rows
    expect(await list()).toMatchObject([
      { name: 'Compute a plan', state: 'waiting' },
      { name: 'Send a letter', state: 'failed', problem: 'No such mailbox' },
    ])
    const [plan, sent] = await list()
    await inTransaction((tx) => workStopped(tx, plan!.id))
    await inTransaction((tx) => workAgain(tx, sent!.id))
    expect((await list()).map(({ state }) => state)).toEqual(['stopped', 'again'])
    expect((await refusalOf((tx) => workStopped(tx, plan!.id))).message).toBe('It is over already.')
    expect((await refusalOf((tx) => workAgain(tx, sent!.id))).message).toContain('Only what failed or was stopped')
    await inTransaction((tx) => workAgain(tx, plan!.id))
    expect((await list()).map(({ state }) => state)).toEqual(['waiting', 'again'])
  })
  it('the checks say what is in order, and what to do where something is not', async () => {
    const checks = await examine()
    expect(checks.map(({ name }) => name)).toEqual(
      expect.arrayContaining(['Database', 'Clock', 'Backups', 'Background work', 'Ledger']),
    )
    expect(checks.filter(({ state }) => state !== 'good').every(({ remedy }) => remedy !== '')).toBe(true)
    await rows(
      db,
      sql`
        insert into jobs.job (name, state, completed_on, output)
        values ('ledger-check', 'completed', now(), '{"differing": 2}')`,
    )
    expect((await examine()).find(({ name }) => name === 'Ledger')).toMatchObject({
      state: 'bad',
      remedy: expect.stringContaining('npm run check-ledger') as string,
    })
  })
})

describe('the audit list', () => {
  it('grows, and nothing of it is changed or removed', async () => {
    await inTransaction((tx) =>
      changePerson(tx, { by: { ...owner, id: 1, email: '', rights: [], sessionId: 0 }, address: '' }, 2, {
        version: 1,
        name: 'Another Name',
        role: 'planner',
        rights: [],
        active: true,
      }),
    )
    for (const statement of ['update changes set label = $$x$$', 'delete from changes', 'truncate changes']) {
      await expect(pool.query(statement)).rejects.toThrow('only grows')
    }
  })
})
