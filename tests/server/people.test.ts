import { eq, sql } from 'drizzle-orm'
import { generate } from 'otplib'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { changes, company, sessions, tries, users } from '~~/server/database/schema'
import { inTransaction } from '~~/server/database/transactions'
import { addPerson } from '~~/server/services/company/set-up'
import { readOwnSignIn, requireOwnPassword, changePassword } from '~~/server/services/people/own-sign-in'
import { choosePassword, lookAtLink, sendForgotten } from '~~/server/services/people/password-links'
import { clearOld } from '~~/server/services/people/clear'
import { changePerson, invite, listPeople, renewLink } from '~~/server/services/people/people'
import { beginFactor, confirmFactor, removeFactor } from '~~/server/services/people/second-factor'
import { beginSession, endSession, findSession, type Session } from '~~/server/services/people/sessions'
import { signIn } from '~~/server/services/people/sign-in'
import { isOutdated, isPassword, sealPassword } from '~~/server/utils/password'
import { isAllowed, type Role } from '~~/shared/company/rights'
import type { Refusal } from '~~/server/utils/refusal'
import { withDemo } from './database'

withDemo()

const HERE = { address: '192.0.2.7', browser: 'A browser' }
const PASSWORD = 'paper lantern walks uphill'
let made = 0
const add = (role: Role = 'maker') =>
  inTransaction((tx) =>
    addPerson(tx, { name: 'Robin Vale', email: `robin-${++made}@hollowmere.example`, password: PASSWORD, role }),
  )
const enter = (email: string, more: { password?: string; code?: string; address?: string } = {}) =>
  signIn(
    { email, password: more.password ?? PASSWORD, code: more.code ?? '' },
    { ...HERE, address: more.address ?? HERE.address },
  )
const refusal = (work: Promise<unknown>): Promise<Refusal> =>
  work.then(
    () => {
      throw new Error('It was taken')
    },
    (error: Refusal) => error,
  )
const sessionOf = async (email: string, more = {}): Promise<Session> => {
  const { token } = await enter(email, more)
  return (await findSession(token))!
}
beforeEach(async () => {
  await db.delete(tries)
})

describe('passwords', () => {
  it('are sealed at the cost of today, and older seals are renewed at the next sign-in', async () => {
    const { email, id } = await add()
    // scrypt at N = 16384, r = 8, p = 1, written before without its figures; made by Node of “paper lantern walks uphill”.
    const { scryptSync } = await import('node:crypto')
    const salt = Buffer.from('0123456789abcdef')
    const old = ['scrypt', salt.toString('base64url'), scryptSync(PASSWORD, salt, 32).toString('base64url')].join('$')
    await db.update(users).set({ passwordHash: old }).where(eq(users.id, id))
    expect([isOutdated(old), await isPassword(PASSWORD, old)]).toEqual([true, true])
    await enter(email)
    const [stored] = await db.select().from(users).where(eq(users.id, id))
    expect(stored!.passwordHash).toMatch(/^scrypt\$32768,8,3\$/)
    expect([isOutdated(stored!.passwordHash!), await isPassword(PASSWORD, stored!.passwordHash)]).toEqual([false, true])
  })
  it('RFC 7914 derives the key: a seal of Node’s own scrypt is opened', async () => {
    const { scryptSync } = await import('node:crypto')
    const salt = Buffer.from('NaCl')
    const key = scryptSync('password', salt, 32, { N: 1024, r: 8, p: 16 })
    // The first 32 bytes of the second test vector of RFC 7914, section 12.
    expect(key.toString('hex')).toBe('fdbabe1c9d3472007856e7190d01e9fe7c6ad7cbc8237830e77376634b373162')
    const hash = ['scrypt', '1024,8,16', salt.toString('base64url'), key.toString('base64url')].join('$')
    expect([await isPassword('password', hash), await isPassword('Password', hash)]).toEqual([true, false])
  })
  it.each(['password1234', 'aaaaaaaaaaaa', 'qwertyuiop12', 'robinvale2026', 'hollowmere-bindery', '123456789012'])(
    '“%s” is too easily guessed',
    async (password) => {
      const { email } = await add()
      const session = await sessionOf(email)
      const no = await refusal(inTransaction((tx) => changePassword(tx, session, password, HERE.address)))
      expect(no.fields?.password).toMatch(/easily guessed/)
    },
  )
  it('a seal is of one password only, and none opens for nobody', async () => {
    const hash = await sealPassword('one password of many')
    expect([await isPassword('one password of many', hash), await isPassword('another', hash)]).toEqual([true, false])
    expect(await isPassword('anything', null)).toBe(false)
  })
})

describe('wrong passwords', () => {
  it('are counted by account and address: after eight the right one waits too, elsewhere it does not', async () => {
    const { email } = await add()
    for (let tried = 0; tried < 8; tried++) {
      expect((await refusal(enter(email, { password: 'wrong' }))).code).toBe('unauthenticated')
    }
    const no = await refusal(enter(email))
    expect([no.code, no.problem.status]).toEqual(['too-many', 429])
    expect(no.detail).toMatch(/^Too many tries\. Try again in 1[45] minutes\.$/)
    expect((await enter(email, { address: '198.51.100.1' })).person.email).toBe(email)
  })
  it('of one account from everywhere are no more than forty in an hour', async () => {
    const { email } = await add()
    for (let tried = 0; tried < 40; tried++) {
      await refusal(enter(email, { password: 'wrong', address: `203.0.113.${tried}` }))
    }
    expect((await refusal(enter(email, { address: '198.51.100.2' }))).code).toBe('too-many')
  })
  it('no longer count once the right one came', async () => {
    const { email } = await add()
    for (let round = 0; round < 3; round++) {
      for (let tried = 0; tried < 7; tried++) {
        await refusal(enter(email, { password: 'wrong' }))
      }
      await enter(email)
    }
  })
  it('are noted with their address, as sign-ins are', async () => {
    const { email, id } = await add()
    await refusal(enter(email, { password: 'wrong' }))
    await enter(email)
    const noted = await db.select().from(changes).where(eq(changes.label, email)).orderBy(changes.id)
    expect(noted.map(({ after, userId, address }) => ({ after, userId, address }))).toEqual([
      { after: { event: 'wrong password' }, userId: null, address: HERE.address },
      { after: { event: 'signed in' }, userId: id, address: HERE.address },
    ])
  })
  it('of one’s own, asked for again, are counted as well', async () => {
    const { email } = await add()
    const session = await sessionOf(email)
    for (let tried = 0; tried < 8; tried++) {
      expect((await refusal(requireOwnPassword(session, 'wrong', HERE.address))).fields?.password).toMatch(/not your/)
    }
    expect((await refusal(requireOwnPassword(session, PASSWORD, HERE.address))).code).toBe('too-many')
  })
})

describe('sessions', () => {
  it('end by themselves after the idle time and after the longest time that the company sets', async () => {
    const { id } = await add()
    await db.update(company).set({ sessionMinutes: 60, sessionDays: 7 })
    const begin = (seen: string, begun: string) =>
      inTransaction(async (tx) => {
        const token = await beginSession(tx, id, HERE)
        await tx
          .update(sessions)
          .set({ seenAt: sql`now() - ${seen}::interval`, begunAt: sql`now() - ${begun}::interval` })
          .where(eq(sessions.userId, id))
        return token
      })
    const known = async (token: string): Promise<boolean> => (await findSession(token)) !== null
    expect(await known(await begin('59 minutes', '1 day'))).toBe(true)
    expect(await known(await begin('61 minutes', '1 day'))).toBe(false)
    expect(await known(await begin('1 minute', '7 days 1 minute'))).toBe(false)
    expect(await findSession('guessed')).toBeNull()
    await db.update(company).set({ sessionMinutes: 720, sessionDays: 30 })
  })
  it('are kept by a digest only', async () => {
    const { email } = await add()
    const { token } = await enter(email)
    const [found] = await rows<{ count: number }>(
      db,
      sql`select count(*)::int as count from sessions where digest like ${`%${token}%`}`,
    )
    expect([token.length, found!.count]).toEqual([43, 0])
  })
  it('end when they are signed out, and only by their own person', async () => {
    const [one, other] = [await add(), await add()]
    const session = await sessionOf(one.email)
    const stranger = await sessionOf(other.email)
    expect((await refusal(inTransaction((tx) => endSession(tx, stranger.id, session.sessionId)))).code).toBe(
      'not-found',
    )
    const { token } = await enter(one.email)
    await inTransaction(async (tx) => endSession(tx, one.id, (await findSession(token))!.sessionId))
    expect(await findSession(token)).toBeNull()
    expect((await readOwnSignIn(session)).sessions.map(({ isThis }) => isThis)).toEqual([true])
  })
  it('all others end with a new password', async () => {
    const { email } = await add()
    const [first, second] = [await enter(email), await enter(email)]
    const session = (await findSession(second.token))!
    await inTransaction((tx) => changePassword(tx, session, 'four quiet herons wading', HERE.address))
    expect(await findSession(first.token)).toBeNull()
    expect((await findSession(second.token))?.id).toBe(session.id)
    expect((await refusal(enter(email))).code).toBe('unauthenticated')
    // The person is told, so that somebody else's change does not go unseen.
    const letters = await rows<{ subject: string }>(db, sql`select subject from mails where to_address = ${email}`)
    expect(letters).toEqual([{ subject: 'Your password for Tsumiki was changed' }])
  })
})

describe('what opens nothing any more', () => {
  it('is cleared after 90 days; what still counts stays', async () => {
    const { email, id } = await add()
    const { token } = await enter(email)
    await refusal(enter(email, { password: 'wrong' }))
    const over = (digest: string, days: number) =>
      rows(
        db,
        sql`
          insert into sessions (digest, user_id, ended_at)
          values (${digest}, ${id}, now() - make_interval(days => ${days}))`,
      )
    await over('long over', 91)
    await over('over of late', 89)
    await rows(db, sql`insert into tries (key, points, expire) values ('old', 1, 1)`)
    await clearOld()
    const left = await rows<{ digest: string }>(db, sql`select digest from sessions where digest like '%over%'`)
    expect([left, (await findSession(token))?.id]).toEqual([[{ digest: 'over of late' }], id])
    const counted = await rows<{ key: string }>(db, sql`select key from tries order by key`)
    expect([counted.some(({ key }) => key === 'old'), counted.length]).toEqual([false, 3])
  })
})

describe('people', () => {
  const owner = () => sessionOf('ines@hollowmere.example', { password: 'boards-and-thread' })
  const asking = async () => ({ by: await owner(), address: HERE.address, origin: 'https://stock.example' })
  const edit = async (id: number, more: object) => {
    const person = (await listPeople()).find((entry) => entry.id === id)!
    const { name, role, rights, active, version } = person
    return { name, role, rights: [...rights], active, version, ...more }
  }
  it('an invitation is used once, within a day, by a password that is strong', async () => {
    const ask = await asking()
    const { link } = await inTransaction((tx) =>
      invite(tx, ask, { name: 'Tove Lund', email: 'Tove@hollowmere.example', role: 'maker' }),
    )
    const token = link.replace('https://stock.example/password#', '')
    expect(await lookAtLink(token)).toEqual({ name: 'Tove Lund', email: 'tove@hollowmere.example', kind: 'invitation' })
    const choose = (password: string) => inTransaction((tx) => choosePassword(tx, { token, password }, HERE))
    // Before a password is chosen none opens.
    expect((await refusal(enter('tove@hollowmere.example', { password: '' }))).code).toBe('unauthenticated')
    expect((await refusal(choose('tove lund tove'))).fields?.password).toMatch(/easily guessed/)
    await choose('seven copper kettles sing')
    expect((await refusal(choose('seven copper kettles hum'))).code).toBe('not-found')
    expect((await enter('tove@hollowmere.example', { password: 'seven copper kettles sing' })).person.role).toBe(
      'maker',
    )
  })
  it('a newer link ends the older one, and a day ends both', async () => {
    const ask = await asking()
    const { id } = await add()
    const tokenOf = ({ link }: { link: string }): string => link.split('#')[1]!
    const first = tokenOf(await inTransaction((tx) => renewLink(tx, ask, id)))
    const second = tokenOf(await inTransaction((tx) => renewLink(tx, ask, id)))
    expect((await refusal(lookAtLink(first))).code).toBe('not-found')
    expect((await lookAtLink(second)).kind).toBe('new password')
    await rows(db, sql`update password_links set expires_at = now() - interval '1 second' where used_at is null`)
    expect((await refusal(lookAtLink(second))).detail).toMatch(/older than 24 hours/)
  })
  it('a forgotten password is sent a link, and nobody learns who has an address', async () => {
    const { email } = await add()
    const ask = (address: string) => inTransaction((tx) => sendForgotten(tx, address, HERE, 'https://stock.example'))
    expect([await ask(email), await ask('nobody@hollowmere.example')]).toEqual([undefined, undefined])
    const letters = await rows<{ body: string }>(db, sql`select body from mails where to_address = ${email}`)
    expect(letters[0]!.body).toMatch(/https:\/\/stock\.example\/password#[\w-]{43}\n/)
  })
  it('who leaves is out at once, also with a new password link, and can be let in again', async () => {
    const ask = await asking()
    const { email, id } = await add()
    const { token } = await enter(email)
    const gone = await edit(id, { active: false })
    await inTransaction((tx) => changePerson(tx, ask, id, gone))
    expect(await findSession(token)).toBeNull()
    expect((await refusal(enter(email))).code).toBe('unauthenticated')
    expect((await refusal(inTransaction((tx) => renewLink(tx, ask, id)))).code).toBe('not-now')
    const back = await edit(id, { active: true })
    await inTransaction((tx) => changePerson(tx, ask, id, back))
    expect((await enter(email)).person.id).toBe(id)
  })
  it('a right beyond the role counts from the next sign-in on, and is noted before and after', async () => {
    const ask = await asking()
    const { email, id } = await add('planner')
    const { token } = await enter(email)
    const wider = await edit(id, { rights: ['undercut', 'plan'] })
    await inTransaction((tx) => changePerson(tx, ask, id, wider))
    expect(await findSession(token)).toBeNull()
    const session = await sessionOf(email)
    // What the role allows is not kept a second time.
    expect([session.rights, isAllowed(session, 'undercut'), isAllowed(session, 'books')]).toEqual([
      ['undercut'],
      true,
      false,
    ])
    const [noted] = await rows<{ before: object; after: object }>(
      db,
      sql`select before, after from changes where label = ${email} and before is not null`,
    )
    expect(noted).toEqual({
      before: { name: 'Robin Vale', role: 'planner', rights: [], active: true },
      after: { name: 'Robin Vale', role: 'planner', rights: ['undercut'], active: true },
    })
    expect((await refusal(inTransaction((tx) => changePerson(tx, ask, id, wider)))).code).toBe('stale-version')
  })
  it('the last owner can neither leave nor become something else', async () => {
    const ask = await asking()
    for (const more of [{ active: false }, { role: 'viewer' as const }]) {
      const less = await edit(ask.by.id, more)
      expect((await refusal(inTransaction((tx) => changePerson(tx, ask, ask.by.id, less)))).detail).toMatch(
        /only owner/,
      )
    }
    const second = await add('owner')
    const less = await edit(second.id, { role: 'viewer' })
    await inTransaction((tx) => changePerson(tx, ask, second.id, less))
  })
})

describe('a second factor', () => {
  afterEach(() => {
    vi.useRealTimers()
  })
  const at = (seconds: number): void => {
    vi.useFakeTimers({ toFake: ['Date'], now: seconds * 1000 })
  }
  it('RFC 6238, appendix B: the codes of its test key at its times are taken', async () => {
    const { id, email } = await add()
    // “12345678901234567890” in Base32; of the published eight digits (SHA-1) the last six are those of an app.
    const key = 'GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ'
    for (const [time, eight] of [
      [59, '94287082'],
      [1111111109, '07081804'],
      [1111111111, '14050471'],
      [1234567890, '89005924'],
      [2000000000, '69279037'],
      [20000000000, '65353130'],
    ] as const) {
      await db.update(users).set({ factorKey: key, factorIsOn: true, factorStep: null }).where(eq(users.id, id))
      at(time)
      expect([time, (await enter(email, { code: eight.slice(2) })).person.id]).toEqual([time, id])
    }
  })
  it('is on with its first right code; then each code counts once, one step early or late', async () => {
    const { id, email } = await add()
    const { key } = await inTransaction((tx) => beginFactor(tx, id))
    // Not yet confirmed, it is not asked for.
    await enter(email)
    const now = 1_790_000_010
    at(now)
    const codeAt = (epoch: number): Promise<string> => generate({ secret: key, epoch })
    expect((await refusal(inTransaction((tx) => confirmFactor(tx, id, '000000')))).fields?.code).toBeDefined()
    const first = await codeAt(now)
    const codes = await inTransaction((tx) => confirmFactor(tx, id, first))
    expect((await refusal(enter(email))).code).toBe('second-factor')
    expect((await refusal(enter(email, { code: first }))).fields?.code).toMatch(/used before/)
    await enter(email, { code: await codeAt(now + 30) })
    expect((await refusal(enter(email, { code: await codeAt(now + 120) }))).code).toBe('second-factor')

    expect(new Set(codes).size).toBe(10)
    await enter(email, { code: codes[3]!.replace('-', '') })
    expect((await refusal(enter(email, { code: codes[3]!.replace('-', '') }))).code).toBe('second-factor')
    const [stored] = await db.select().from(users).where(eq(users.id, id))
    expect([stored!.recoveryCodes.length, stored!.recoveryCodes.includes(codes[0]!)]).toEqual([9, false])
    await inTransaction((tx) => removeFactor(tx, id))
    await enter(email)
  })
  it('wrong codes are counted like wrong passwords', async () => {
    const { id, email } = await add()
    await db
      .update(users)
      .set({ factorKey: 'GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ', factorIsOn: true })
      .where(eq(users.id, id))
    for (let tried = 0; tried < 8; tried++) {
      await refusal(enter(email, { code: '000000' }))
    }
    expect((await refusal(enter(email, { code: '000000' }))).code).toBe('too-many')
  })
})
