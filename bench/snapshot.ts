import { NetPlan } from '~~/core/planning/netting'
import { db, pool } from '~~/server/database/client'
import { prepareDatabase } from '~~/server/services/company/prepare'
import { takeSnapshot } from '~~/server/services/planning/snapshot'
import type { Figure } from './figure'
import { fillPlanning } from './planning-set'

const ITEMS = 100_000
const DEMANDS = 1_000_000

/** What a plan is computed on, read from PostgreSQL, beside the same rows read with nothing made of them. */
export async function* run(): AsyncGenerator<Figure> {
  await prepareDatabase('demo')
  await fillPlanning(ITEMS, DEMANDS)
  const yardstick = await timed(async () => {
    for (const text of [
      'select * from items',
      'select * from boms',
      'select * from bom_lines',
      'select * from supplier_terms',
      'select * from balances',
      'select * from sales_orders',
      'select id, order_id, item_id, quantity, shipped from sales_lines',
    ]) {
      await pool.query({ text, rowMode: 'array' })
    }
  })
  let found: Awaited<ReturnType<typeof takeSnapshot>> | null = null
  const took = await timed(async () => {
    found = await takeSnapshot(db, {
      start: '2026-10-05',
      end: '2027-10-04',
      demandRule: 'orders only',
      forecastIds: [],
      forecastFalls: 'first day',
    })
  })
  const input = found!
  const planned = await timed(() => {
    if (!NetPlan.open(input).ok) {
      throw new Error('The snapshot cannot be planned on')
    }
  })
  await pool.end()
  const size = `${input.nodes.length} items, ${input.demands.length} demands`
  yield* [
    {
      bench: 'snapshot',
      figure: `what a plan is computed on, read from PostgreSQL: ${size}`,
      value: took / 1000,
      unit: 's',
      comparedWith: `the same tables read as bare rows (${(yardstick / 1000).toFixed(1)} s; it may take 10 s)`,
      ratio: took / yardstick,
    },
    {
      bench: 'snapshot',
      figure: 'the plan on it',
      value: planned / 1000,
      unit: 's',
      comparedWith: 'reading it',
      ratio: planned / took,
    },
    {
      bench: 'snapshot',
      figure: 'memory after it',
      value: process.memoryUsage().rss / 2 ** 20,
      unit: 'MiB',
      comparedWith: 'the 1 024 MiB that a plan may take',
      ratio: process.memoryUsage().rss / 2 ** 30,
    },
  ]
}

async function timed(work: () => unknown): Promise<number> {
  const begun = performance.now()
  await work()
  return performance.now() - begun
}
