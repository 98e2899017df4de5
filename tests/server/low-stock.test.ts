import { sql } from 'drizzle-orm'
import { describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { exportTable } from '~~/server/services/books/export'
import { inTransaction } from '~~/server/database/transactions'
import { listMails, readMail } from '~~/server/services/company/mails'
import { createPlan } from '~~/server/services/planning/plans'
import { dailyLowStock, findLowStock, letterOf, readLowStock, setLowStock } from '~~/server/services/stock/low-stock'
import { todayLines } from '~~/server/services/today/today'
import { LowStockSettings } from '~~/shared/planning/low-stock-requests'
import { tellLowStock, type LowStockLine } from '~~/shared/planning/low-stock'
import { NewPlan } from '~~/shared/planning/requests'
import { owner, withDemo } from './database'

withDemo()

const PLAIN = { decimalSign: '.', grouping: 'space', dateFormat: 'day month' } as const
/** Days and numbers as they are stored. */
const plain = { day: (iso: string) => iso, digits: (decimal: string) => decimal }

describe('what runs low', () => {
  it('is found once a day, by whichever of two servers comes first, and mailed to those who plan', async () => {
    const answers = await Promise.all([dailyLowStock(), dailyLowStock()])
    const planning = await rows<{ id: number; email: string }>(
      db,
      sql`select id, email from users where active and role in ('owner', 'planner', 'buyer') order by id`,
    )
    expect(planning.length).toBeGreaterThan(1)
    expect([...answers].sort()).toEqual([planning.length, null].sort())
    expect(
      (await rows<{ to: string }>(db, sql`select to_address as "to" from mails order by user_id`)).map(
        (mail) => mail.to,
      ),
    ).toEqual(planning.map((entry) => entry.email))
    expect(await dailyLowStock()).toBeNull()
  })
  it('tells the navy cloth’s like by day and number: 12 kits for Parkside are over by two working days', async () => {
    const { lines, day, aheadDays } = await readLowStock(owner)
    expect([day, aheadDays]).toEqual(['2026-10-05', 5])
    const kit = lines.find((line) => line.code === 'KIT-FIRST' && line.site === 'Parkside Warehouse')!
    expect(kit).toMatchObject({
      kind: 'move',
      from: 'Workshop',
      onHand: '0',
      left: '0',
      keep: '6',
      quantity: '12',
      lowOn: '2026-10-05',
      orderBy: '2026-10-01',
      lateBy: 2,
      leadDays: 2,
      promisedOn: '2026-10-07',
    })
    const siteId = (await rows<{ id: number }>(db, sql`select min(id) as id from sites`))[0]!.id
    expect(kit.fromSiteId).toBe(siteId)
    // What is bought names whom it is bought from; the glue is there when its supplier can have it there.
    const glue = lines.find((line) => line.code === 'GLUE-DRUM')!
    expect([glue.supplierId, glue.kind]).toEqual([
      (await rows<{ id: number }>(db, sql`select id from suppliers where name = 'Sealand Adhesives'`))[0]!.id,
      'buy',
    ])
    expect(glue.promisedOn! > glue.lowOn).toBe(true)
    expect(tellLowStock(kit, plain)).toBe(
      '0 pc left on 2026-10-05, 6 to keep; move 12 pc from Workshop at once: 2 working days late',
    )
    // The cloth for the notebooks of 6 November is ordered on 16 October: 9 working days from now.
    expect(lines.map((line) => line.code)).not.toContain('CLOTH-NAVY')
    const further = await findLowStock(db, owner.today, 9)
    expect(further.find((line) => line.code === 'CLOTH-NAVY')).toMatchObject({
      orderBy: '2026-10-16',
      lowOn: '2026-10-30',
      left: '-8',
      keep: '0',
      quantity: '10',
      kind: 'buy',
      from: 'Weftworks Cloth',
    })
    expect(await findLowStock(db, owner.today, 8)).not.toContainEqual(expect.objectContaining({ code: 'CLOTH-NAVY' }))
  })
  it('what is broken down says of what, by which recipe and how many times', async () => {
    const [given] = await rows<{ itemId: number; code: string; bulkId: number; recipeId: number; quantity: string }>(
      db,
      sql`
        select i.id as "itemId", i.code, r.item_id as "bulkId", r.id as "recipeId", i.safety_stock as quantity
        from items i
        join recipe_outputs o on o.item_id = i.id
        join recipes r on r.id = o.recipe_id
        where i.source = 'broken down'
        order by r.rank, r.id
        limit 1`,
    )
    await rows(db, sql`update items set safety_stock = 100000 where id = ${given!.itemId}`)
    const line = (await findLowStock(db, owner.today, 5)).find((entry) => entry.itemId === given!.itemId)!
    expect(line).toMatchObject({ kind: 'break down', breaking: { itemId: given!.bulkId, recipeId: given!.recipeId } })
    // So many times that what it gives reaches what is missing, and not one more.
    const [{ each }] = (await rows<{ each: string }>(
      db,
      sql`
        select numerator / denominator as each
        from recipe_outputs
        where recipe_id = ${given!.recipeId} and item_id = ${given!.itemId}`,
    )) as [{ each: string }]
    expect(Number(line.breaking!.times) * Number(each)).toBeCloseTo(Number(line.quantity), 6)
    await rows(db, sql`update items set safety_stock = ${given!.quantity} where id = ${given!.itemId}`)
  })
  it('the letter names what is late first, and goes out as a message of RFC 5322', async () => {
    const [head] = await listMails(owner)
    const { lines } = await readLowStock(owner)
    const late = lines.filter((line) => line.lateBy > 0).length
    expect(head).toMatchObject({
      sentOn: '2026-10-05',
      subject: `${lines.length} items run low, ${late} too late already`,
    })
    expect(head!.body).toContain(
      '- KIT-FIRST First binding kit, Parkside Warehouse: 0 pc left on 5 Oct, 6 to keep; move 12 pc from Workshop at once: 2 working days late',
    )
    expect(head!.body.indexOf('Too late already')).toBeLessThan(head!.body.indexOf('To be ordered soon'))
    const file = await readMail(owner, head!.id)
    expect(file.name).toMatch(/^\d+ items run low \d+ too late already\.eml$/)
    for (const line of ['From: ', 'To: ', 'Subject: ', 'Message-ID: ', 'Date: Mon, 05 Oct 2026', 'MIME-Version: 1.0']) {
      expect(file.text).toContain(line)
    }
    const [foreign] = await rows<{ id: number }>(db, sql`select id from mails where user_id <> ${owner.userId} limit 1`)
    await expect(readMail(owner, foreign!.id)).rejects.toThrow('no such letter')
    expect(await listMails({ ...owner, userId: 999_999 })).toEqual([])
  })
  it('Today names it, unless it waits there as a planned order already', async () => {
    const named = async (): Promise<string[]> =>
      (await todayLines(owner.today)).lines.filter((line) => line.id.startsWith('low:')).map((line) => line.title)
    expect(await named()).toContain('KIT-FIRST runs low at Parkside Warehouse')
    await inTransaction((tx) =>
      createPlan(
        tx,
        owner,
        NewPlan.parse({ name: 'Working', kind: 'working', endsOn: '2026-12-31', demandRule: 'orders only' }),
      ),
    )
    expect(await named()).not.toContain('KIT-FIRST runs low at Parkside Warehouse')
    expect(
      (await todayLines(owner.today)).lines.filter((line) => line.area === 'planning').map((line) => line.title),
    ).toContain('Move 12 pc KIT-FIRST')
  })
  it('told further ahead more is told; the letter can be left off; the list goes out as a file', async () => {
    const before = (await readLowStock(owner)).lines.length
    const { lines } = await inTransaction((tx) => setLowStock(tx, owner, { aheadDays: 30, mail: false }))
    expect(lines).toBeGreaterThan(before)
    expect(await readLowStock(owner)).toMatchObject({ aheadDays: 30, mail: false })
    const next = await dailyLowStock('2026-10-06')
    expect(
      (
        await rows<{ n: number }>(
          db,
          sql`select count(*)::int as n from mails where sent_on = '2026-10-06' and user_id = ${owner.userId}`,
        )
      )[0]!.n,
    ).toBe(0)
    expect(next).toBeGreaterThan(0)
    const file = await exportTable('low-stock')
    expect(file.split('\n').length - 2).toBe((await readLowStock(owner)).lines.length)
    expect(file).toContain('KIT-FIRST,First binding kit,Parkside Warehouse,')
  })
  it('an item without a source is told with its day; one that is ordered in time is not told', async () => {
    const [hide] = await rows<{ id: number }>(
      db,
      sql`
        insert into items (
          code, name, group_id, kind, status, source, stock_unit, buying_unit, selling_unit, making_unit,
          finest_step, safety_stock
        )
        select
          'LOST', 'Lost thing', group_id, 'stocked', 'active', 'bought', stock_unit, stock_unit, stock_unit,
          stock_unit, '1', 4
        from items
        where code = 'BONE'
        returning id`,
    )
    const shown = async (): Promise<LowStockLine | undefined> =>
      (await findLowStock(db, owner.today, 5)).find((line) => line.itemId === hide!.id)
    expect(await shown()).toMatchObject({ kind: null, left: '0', keep: '4', quantity: '4', lowOn: '2026-10-05' })
    expect(tellLowStock((await shown())!, plain)).toBe(
      '0 pc left on 2026-10-05, 4 to keep; nothing says where it comes from',
    )
    await rows(
      db,
      sql`
        insert into balances (item_id, place_id, status, on_hand)
        select ${hide!.id}, id, 'available', 4
        from places
        where code = 'FIN'`,
    )
    expect(await shown()).toBeUndefined()
    await rows(db, sql`delete from balances where item_id = ${hide!.id}`)
  })
  it('one of a kind is written in the singular', () => {
    const line: LowStockLine = {
      itemId: 1,
      code: 'A',
      name: 'Awl',
      symbol: 'pc',
      siteId: null,
      site: null,
      kind: 'buy',
      from: 'Needle Works',
      onHand: '2',
      lowOn: '2026-10-08',
      left: '-3',
      keep: '0',
      quantity: '5',
      orderBy: '2026-10-07',
      lateBy: 0,
      leadDays: 1,
    }
    expect(letterOf([line], '2026-10-05', 'Ines Marlow', PLAIN)).toMatchObject({ subject: '1 item runs low' })
    expect(letterOf([line], '2026-10-05', 'Ines Marlow', PLAIN).body).toContain(
      '- A Awl: 3 pc missing on 8 Oct; buy 5 pc from Needle Works by 7 Oct',
    )
    expect(tellLowStock({ ...line, lateBy: 1 }, plain)).toContain('at once: 1 working day late')
  })
  it.each([
    [61, 'Sixty at most.'],
    [-1, 'Not below zero.'],
    [1.5, 'Give whole working days.'],
    ['x', 'Give working days.'],
  ])('%s days ahead: %s', (aheadDays, sentence) => {
    expect(LowStockSettings.safeParse({ aheadDays, mail: true }).error?.issues[0]?.message).toBe(sentence)
  })
})
