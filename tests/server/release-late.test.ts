import { sql } from 'drizzle-orm'
import { beforeAll, describe, expect, it } from 'vitest'
import { db, rows } from '~~/server/database/client'
import { inTransaction } from '~~/server/database/transactions'
import { createPlan } from '~~/server/services/planning/plans'
import { readPlan } from '~~/server/services/planning/read-plan'
import { release } from '~~/server/services/planning/release'
import type { ReleasedDocument } from '~~/server/services/planning/release-documents'
import { NewPlan } from '~~/shared/planning/requests'
import { owner, withDemo } from './database'

withDemo()

let id = 0
let before: Awaited<ReturnType<typeof readPlan>>
let documents: ReleasedDocument[] = []
const now = () => readPlan(id, owner.today)
beforeAll(async () => {
  id = (
    await inTransaction((tx) =>
      createPlan(
        tx,
        owner,
        NewPlan.parse({ name: 'Late', kind: 'working', endsOn: '2026-12-31', demandRule: 'orders only' }),
      ),
    )
  ).id
  before = await now()
  const late = before.orders.filter((order) => order.lateBy > 0)
  ;({ documents } = await inTransaction((tx) =>
    release(tx, owner, id, { version: before.version, orderIds: late.map((order) => order.id) }),
  ))
})

describe('what is released late stays late', () => {
  it('there is something late to release', () => {
    expect(before.figures.late).toBeGreaterThan(0)
    expect(before.figures.inTime).toBeLessThan(before.figures.lines)
    expect(documents.length).toBeGreaterThan(0)
  })
  // Eight working days after Monday, 5 October: Thursday the 15th; needed on the 8th.
  it('the document is written with the day that was promised', async () => {
    const [line] = await rows<{ dueOn: string }>(
      db,
      sql`
        select l.due_on as "dueOn"
        from purchase_lines l
        join purchase_orders o on o.id = l.order_id
        join items i on i.id = l.item_id
        where i.code = 'GLUE-DRUM' and o.number = any(array[${sql.join(
          documents.map((document) => sql`${document.number}`),
          sql`, `,
        )}])`,
    )
    expect(line).toEqual({ dueOn: '2026-10-15' })
  })
  it('no document arrives before it can', async () => {
    const early = await rows(
      db,
      sql`
        select l.id
        from purchase_lines l
        join purchase_orders o on o.id = l.order_id
        join supplier_terms t on t.item_id = l.item_id and t.supplier_id = o.supplier_id
        where o.ordered_on = ${owner.today} and l.due_on < o.ordered_on + t.lead_days`,
    )
    expect(early).toEqual([])
  })
  it('the lines that were late before still are, and nothing is bought a second time', async () => {
    const after = await now()
    expect(after.atRisk.map((line) => line.id).sort()).toEqual(before.atRisk.map((line) => line.id).sort())
    expect([after.figures.lines, after.figures.inTime]).toEqual([before.figures.lines, before.figures.inTime])
    expect(after.figures.late).toBeGreaterThan(0)
    const released = new Set(before.orders.filter((order) => order.lateBy > 0).map((order) => order.code))
    expect(
      after.orders.filter((order) => order.state !== 'released' && order.lateBy > 0 && released.has(order.code)),
    ).toEqual([])
  })
  it('who waits is told with the document', async () => {
    const { messages } = await now()
    const drum = messages.filter((message) => message.code === 'late supply' && message.text.includes('GLUE-DRUM'))
    expect(drum.map((message) => message.text)).toEqual([
      expect.stringMatching(
        /^PO-\d+: .* of GLUE-DRUM .* short from 8 Oct on; it comes on 15 Oct, and a new order would not be sooner; .* waits? for it\.$/,
      ),
    ])
  })
})
