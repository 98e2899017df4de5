import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { db, rows, type Tx } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'

import { remove, shapeOf } from '~~/server/services/catalogue/definitions'
import { dayIn } from '~~/server/services/company/company'
import { changeSettings, readSettings } from '~~/server/services/company/settings'
import { CompanySettings } from '~~/shared/company/settings'
import { idOf, owner, refusalOf, withDemo } from './database'

withDemo()

describe('the company’s day', () => {
  // Zones and their summer time as in the IANA time zone database.
  it.each([
    ['Pacific/Auckland', '2026-10-05T12:30:00Z', '2026-10-06'],
    ['America/Los_Angeles', '2026-10-05T03:00:00Z', '2026-10-04'],
    ['Europe/Berlin', '2026-10-24T22:30:00Z', '2026-10-25'],
    ['Europe/Berlin', '2026-10-25T22:30:00Z', '2026-10-25'],
    ['Europe/Berlin', '2026-12-31T23:00:00Z', '2027-01-01'],
    ['UTC', '2026-10-05T23:59:59Z', '2026-10-05'],
  ])('in %s at %s is %s', (zone, moment, day) => {
    expect(dayIn(zone, new Date(moment))).toBe(day)
  })
})

describe('the settings of the company', () => {
  const change = async (more: Partial<CompanySettings>) => {
    return CompanySettings.parse({ ...(await readSettings(db)), ...more })
  }

  it('are read, changed and noted', async () => {
    const [calendar] = await rows<{ id: number }>(db, sql`select id from calendars order by id limit 1`)
    const edit = await change({
      name: 'Hollowmere',
      decimalSign: ',',
      grouping: 'sign',
      dateFormat: 'month day',
      calendarId: calendar!.id,
      timeZone: 'Europe/Oslo',
    })
    const { version } = await inTransaction((tx) => changeSettings(tx, owner, edit))
    expect(await readSettings(db)).toMatchObject({ ...edit, version, today: '2026-10-05', hasValue: true })
    const [noted] = await rows<{ before: object; after: object }>(
      db,
      sql`select before, after from changes where entity = 'company' order by id desc limit 1`,
    )
    expect(noted).toMatchObject({ before: { decimalSign: '.' }, after: { decimalSign: ',', timeZone: 'Europe/Oslo' } })
    await inTransaction(async (tx) =>
      changeSettings(
        tx,
        owner,
        await change({ decimalSign: '.', grouping: 'space', dateFormat: 'day month', timeZone: null }),
      ),
    )
  })

  it('the company’s calendar is not deleted while it is in use, and a calendar that is gone is not chosen', async () => {
    const [{ id } = { id: 0 }] = await rows<{ id: number }>(
      db,
      sql`insert into calendars (name) values ('Only the company’s') returning id`,
    )
    await inTransaction(async (tx) => changeSettings(tx, owner, await change({ calendarId: id })))
    const removeIt = (tx: Tx) => remove(tx, owner, shapeOf('calendars'), [id])
    expect((await refusalOf(removeIt)).detail).toBe(
      'Only the company’s is used by the company’s settings, so it stays. Take it off there first.',
    )
    await inTransaction(async (tx) => changeSettings(tx, owner, await change({ calendarId: null })))
    await inTransaction(removeIt)
    const gone = await change({ calendarId: id })
    expect((await refusalOf((tx) => changeSettings(tx, owner, gone))).fields?.calendarId).toBe(
      'This calendar is gone. Choose another.',
    )
  })

  it('say where finished goods go and whom orders of the web shop are for; what is gone is refused, and stays while it is meant', async () => {
    const [bin, customer] = [await idOf('places', 'FIN'), await idOf('customers', 'WEB')]
    expect(await readSettings(db)).toMatchObject({ finishedBinId: bin, webCustomerId: customer })
    for (const [more, field] of [
      [{ finishedBinId: 999_999 }, 'finishedBinId'],
      [{ webCustomerId: 999_999 }, 'webCustomerId'],
    ] as const) {
      const edit = await change(more)
      expect((await refusalOf((tx) => changeSettings(tx, owner, edit))).fields).toHaveProperty(field)
    }
    const [{ id } = { id: 0 }] = await rows<{ id: number }>(
      db,
      sql`
        insert into places (code, name, kind, site_id)
        select 'USUAL', 'Usual', 'bin', site_id from places where id = ${bin}
        returning id`,
    )
    await inTransaction(async (tx) => changeSettings(tx, owner, await change({ finishedBinId: id })))
    expect((await refusalOf((tx) => remove(tx, owner, shapeOf('bins'), [id]))).detail).toContain(
      'is used by the company’s settings, so it stays.',
    )
    await inTransaction(async (tx) => changeSettings(tx, owner, await change({ finishedBinId: bin })))
    await inTransaction((tx) => remove(tx, owner, shapeOf('bins'), [id]))
  })

  it('an older version is refused', async () => {
    const edit = await change({ name: 'Older' })
    await inTransaction(async (tx) => changeSettings(tx, owner, await change({ name: 'Newer' })))
    expect((await refusalOf((tx) => changeSettings(tx, owner, edit))).code).toBe('stale-version')
  })

  it('the currency stays while value is on the books', async () => {
    const edit = await change({ currency: 'CHF' })
    expect((await refusalOf((tx) => changeSettings(tx, owner, edit))).fields?.currency).toBe(
      'Value is on the books in EUR; it would be read as CHF without being converted.',
    )
  })

  it.each([
    [{ currency: 'ABC' }, '“ABC” is no currency. Give its three letters, for example EUR.'],
    [{ timeZone: 'Mars/Base' }, '“Mars/Base” is no time zone. Write for example Europe/Berlin.'],
    [{ sessionMinutes: 1 }, 'At least five minutes.'],
    [{ sessionDays: 5000 }, 'At most a year.'],
  ])('%o is refused', async (more, sentence) => {
    const read = CompanySettings.safeParse({
      version: 1,
      name: 'A',
      currency: 'EUR',
      decimalSign: '.',
      grouping: 'space',
      dateFormat: 'day month',
      timeZone: null,
      sessionMinutes: 720,
      sessionDays: 30,
      ...more,
    })
    expect(read.error?.issues.map((issue) => issue.message)).toEqual([sentence])
  })
})
