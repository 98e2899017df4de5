import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { itemSheet } from '~~/server/services/catalogue/sheet'
import { saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { createOrder } from '~~/server/services/demand/orders'
import { createPurchase } from '~~/server/services/purchasing/orders'
import { createBuild } from '~~/server/services/workshop/builds'
import { moveJob, previewJobMove } from '~~/server/services/workshop/move-job'
import { readWorkBoard } from '~~/server/services/workshop/work-board'
import { BillEdit } from '~~/shared/structure/requests'
import { idOf, owner, refusalOf, withDemo } from './database'
import { here, make, open, withPlaces } from './stock-helpers'

withDemo()
withPlaces()

/*
 * A box takes one lid and 6 minutes (60 for ten). 2 boxes are there; SO wants 5 on Friday 9 October and 3 on Wednesday
 * 14 October; a build of 6 is due on Thursday 8 October, begun on the 6th. 4 lids are there, 8 come on Wednesday 7
 * October.
 */
describe('the board of the workshop', () => {
  const items = { box: 0, lid: 0 }
  let build = 0
  const job = () => ({ kind: 'build' as const, id: build })
  const lateBy = async (day: string): Promise<string[]> =>
    (await previewJobMove(db, job(), day, owner.today)).late.map(
      (row) => `${row.quantity} ${row.code}, ${row.wantedOn} → ${row.coveredOn}${row.isOwnNeed ? ', its own' : ''}`,
    )
  beforeAll(async () => {
    items.box = await make('BD-BOX', { source: 'made' })
    items.lid = await make('BD-LID')
    await inTransaction((tx) =>
      saveOne(tx, owner, shapeOf('bills'), {
        id: null,
        version: null,
        definition: BillEdit.parse({
          itemId: items.box,
          fromOn: '2026-01-01',
          batchSize: '10',
          batchUnit: 'piece',
          workMinutes: '60',
          lines: [{ itemId: items.lid, quantity: typedQuantity('10'), unit: 'piece' }],
        }) as never,
      }),
    )
    await open(items.box, '2', '5.00')
    await open(items.lid, '4', '1.00')
    const customer = await idOf('customers', 'LARK')
    for (const [quantity, dueOn] of [
      ['5', '2026-10-09'],
      ['3', '2026-10-14'],
    ] as const) {
      await inTransaction((tx) =>
        createOrder(tx, owner, {
          customerId: customer,
          dueOn,
          lines: [{ id: null, itemId: items.box, quantity: typedQuantity(quantity), unit: 'piece', price: '9' }],
        } as never),
      )
    }
    await inTransaction(async (tx) =>
      createPurchase(tx, owner, {
        supplierId: await idOf('suppliers', 'TULLY'),
        note: '',
        lines: [{ itemId: items.lid, quantity: typedQuantity('8'), unit: 'piece', price: '1', dueOn: '2026-10-07' }],
      } as never),
    )
    build = (
      await inTransaction((tx) =>
        createBuild(tx, owner, {
          itemId: items.box,
          quantity: typedQuantity('6'),
          unit: 'piece',
          dueOn: '2026-10-08',
          releaseOn: '2026-10-06',
          siteId: here.workshop,
        }),
      )
    ).id
  })

  it('shows two weeks from Monday, with the minutes of each job and the room of each day', async () => {
    await db.execute(sql`update calendars set work_hours = 7.5`)
    const board = await readWorkBoard({ site: here.workshop, from: '2026-10-08' }, owner.today)
    expect([board.from, board.days.length, board.days.at(-1)!.day]).toEqual(['2026-10-05', 14, '2026-10-18'])
    expect(board.days.slice(3, 7).map(({ isWorked, room }) => [isWorked, room])).toEqual([
      [true, 450],
      [true, 450],
      [false, 0],
      [false, 0],
    ])
    expect(board.jobs.find((row) => row.id === `build:${build}`)).toMatchObject({
      code: 'BD-BOX',
      left: '6',
      minutes: 36,
      dueOn: '2026-10-08',
      releaseOn: '2026-10-06',
    })
    const later = await readWorkBoard({ site: here.workshop, from: '2026-11-02' }, owner.today)
    expect(later.jobs.some((row) => row.id === `build:${build}`)).toBe(false)
    await db.execute(sql`update calendars set work_hours = null`)
    expect((await readWorkBoard({ site: here.workshop, from: null }, owner.today)).days[0]!.room).toBeNull()
  })
  it('refuses a site that is none and weeks beyond the calendar', async () => {
    const refusal = (query: { site: number | null; from: string | null }) =>
      refusalOf(() => readWorkBoard(query, owner.today))
    expect((await refusal({ site: 999_999, from: null })).code).toBe('not-found')
    expect((await refusal({ site: null, from: '9999-12-31' })).fields).toEqual({
      from: 'That is further ahead than the calendar goes.',
    })
  })
  it('the timeline of an item tells what builds take of it, too', async () => {
    const { timeline } = await itemSheet(items.lid, owner.today)
    expect(timeline.map((row) => [row.day, row.kind, row.change, row.balance])).toEqual([
      ['2026-10-06', 'build out', '-6', '-2'],
      ['2026-10-07', 'purchase order', '8', '6'],
    ])
  })
  it('tells before it is moved what that makes late: nothing, the first order, both', async () => {
    expect(await lateBy('2026-10-09')).toEqual([])
    expect(await lateBy('2026-10-12')).toEqual(['5 BD-BOX, 2026-10-09 → 2026-10-12'])
    expect(await lateBy('2026-10-16')).toEqual([
      '5 BD-BOX, 2026-10-09 → 2026-10-16',
      '3 BD-BOX, 2026-10-14 → 2026-10-16',
    ])
  })
  it('a job that begins earlier may lack its own components: it waits for them one day more', async () => {
    // Begun on the 5th instead of the 6th, it waits for the lids of the 7th for two days instead of one.
    expect(await lateBy('2026-10-07')).toEqual(['6 BD-LID, 2026-10-05 → 2026-10-07, its own'])
  })
  it('moves it with its beginning by working days, never before today, and only as it was seen', async () => {
    const version = async (): Promise<number> =>
      (await rows<{ version: number }>(db, sql`select version from builds where id = ${build}`))[0]!.version
    const move = async (day: string, at?: number) => {
      const seen = at ?? (await version())
      return inTransaction((tx) => moveJob(tx, owner, job(), { version: seen, day }))
    }
    expect(await move('2026-10-12')).toMatchObject({ dueOn: '2026-10-12', releaseOn: '2026-10-08' })
    expect(await move('2026-10-06')).toMatchObject({ dueOn: '2026-10-06', releaseOn: '2026-10-05' })
    expect((await refusalOf((tx) => moveJob(tx, owner, job(), { version: 1, day: '2026-10-08' }))).code).toBe(
      'stale-version',
    )
    const seen = await version()
    expect((await refusalOf((tx) => moveJob(tx, owner, job(), { version: seen, day: '2026-10-04' }))).fields).toEqual({
      day: 'This day is over. Choose today or later.',
    })
  })
})
