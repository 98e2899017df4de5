import { sql } from 'drizzle-orm'
import { expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { createPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { release } from '~~/server/services/planning/release'
import { loadBreakDown } from '~~/server/services/workshop/break-downs'
import { NewPlan } from '~~/shared/planning/requests'
import { idOf, owner, withDemo } from './database'

withDemo()

// A sheet of BOARD-3 is cut into 8 BLANK-A4 by its first recipe, into 16 BLANK-A5 by its second.
it('a break-down is released by the recipe that it was planned with, not by the first of its bulk item', async () => {
  const blank = await idOf('items', 'BLANK-A5')
  // Only BOARD-3 gives it any more.
  const board = await idOf('items', 'BOARD-2')
  await rows(db, sql`delete from recipes where item_id = ${board}`)
  await rows(db, sql`update items set safety_stock = 10000 where id = ${blank}`)
  const plan = await inTransaction((tx) =>
    createPlan(
      tx,
      owner,
      NewPlan.parse({ name: 'Recipes', kind: 'working', endsOn: '2026-12-31', demandRule: 'orders only' }),
    ),
  )
  const { orders, version } = await readPlan(plan.id, owner.today)
  const order = orders.find((entry) => entry.code === 'BLANK-A5' && entry.kind === 'break down')!
  const { documents } = await inTransaction((tx) => release(tx, owner, plan.id, { version, orderIds: [order.id] }))
  const job = await loadBreakDown(documents[0]!.id, owner.today)
  expect(job.outputs.map((output) => output.code)).toEqual(['BLANK-A5'])
  expect(Number(job.outputs[0]!.quantity)).toBeGreaterThanOrEqual(Number(order.quantity))
})
