import { toDay } from '~~/core/calendar/days'
import { applyWhatIf, LivePlan } from '~~/core/planning/what-if'
import { NetPlan } from '~~/core/planning/netting'
import { writePlan } from '~~/core/planning'
import type { PlanInput } from '~~/core/planning/input'
import { pool } from '~~/server/database/client'
import { DAYS, makeInput, START } from './factory'
import { best, type Figure } from './figure'

/** The floor: every figure that netting reads or writes is touched once, with nothing decided. */
function barePass(nodes: number, demands: Float64Array, orders: number): number {
  const row = new Float64Array(DAYS)
  let sum = 0
  for (const quantity of demands) {
    sum += quantity
  }
  for (let node = 0; node < nodes; node++) {
    row.fill(0)
    for (let day = 0; day < DAYS; day++) {
      sum += row[day]! + 1
    }
  }
  for (let i = 0; i < orders; i++) {
    sum += i
  }
  return sum
}

export async function* run(): AsyncGenerator<Figure> {
  let tenth = 0
  for (const [nodes, demands] of [
    [10_000, 100_000],
    [100_000, 1_000_000],
  ] as const) {
    const input = makeInput(nodes, demands)
    let opened: NetPlan | null = null
    const took = await best(nodes > 50_000 ? 2 : 3, () => {
      const made = NetPlan.open(input)
      if (made.ok) {
        opened = made.value
      }
    })
    const plan = opened as unknown as NetPlan
    const quantities = Float64Array.from(input.demands, (demand) => demand.quantity)
    const yardstick = await best(3, () => barePass(nodes, quantities, plan.orders.size))
    const size = `${nodes / 1000} 000 items, ${demands / 1000} 000 demands, ${(plan.orders.size / 1000).toFixed(0)} 000 planned orders`
    yield {
      bench: 'planning',
      figure: `plan of ${size}`,
      value: took / 1000,
      unit: 's',
      comparedWith:
        nodes > 50_000
          ? `a bare pass over the same figures (${yardstick.toFixed(0)} ms; it may take 3 s)`
          : `a bare pass over the same figures (${yardstick.toFixed(0)} ms)`,
      ratio: took / yardstick,
    }
    if (tenth === 0) {
      tenth = took
    } else {
      yield {
        bench: 'planning',
        figure: 'growth from 10 000 to 100 000 items',
        value: took / tenth,
        unit: 'times',
        comparedWith: 'ten times (at most 13 is asked)',
        ratio: took / tenth / 10,
      }
      yield {
        bench: 'planning',
        figure: 'memory after it',
        value: process.memoryUsage().rss / 2 ** 20,
        unit: 'MiB',
        comparedWith: 'the 1 024 MiB that it may take',
        ratio: process.memoryUsage().rss / 2 ** 30,
      }
      yield* await netChange(plan)
    }
    if (nodes < 50_000) {
      const written = await best(1, () => {
        writePlan(plan)
      })
      yield {
        bench: 'planning',
        figure: `every line, peg and message of ${nodes / 1000} 000 items written out`,
        value: written / 1000,
        unit: 's',
        comparedWith: 'the plan itself',
        ratio: written / took,
      }
      yield await tried(input, took + written)
    }
  }
  yield* await besideSets()
  await pool.end()
}

/**
 * The same netting as sets, level by level: every requirement of a level at once, by window functions. Exact quantities
 * and multiples only, days uncounted by a calendar.
 */
async function asSets(input: PlanInput, levels: number): Promise<{ took: number; orders: number; quantity: number }> {
  const client = await pool.connect()
  const run = (text: string, values: unknown[] = []) => client.query(text, values)
  await run('drop table if exists plan_nodes, plan_parts, plan_demands, plan_orders')
  await run(
    'create table plan_nodes (id text primary key, level int, on_hand bigint, safety bigint, multiple bigint, lead int)',
  )
  await run('create table plan_parts (parent text, child text, numerator bigint, denominator bigint)')
  await run('create table plan_demands (node text, day int, quantity bigint)')
  await run('create table plan_orders (node text, due int, release int, quantity bigint)')
  const nodes = input.nodes.map((n) => [
    n.id,
    Number(n.id.split('.')[0]),
    n.onHand[0]!.quantity,
    n.safety,
    n.source.kind === 'buy' ? Number(n.source.multiple!.numerator) : 1,
    n.source.kind === 'none' ? 0 : n.source.leadDays,
  ])
  const columns = (rows: readonly (readonly unknown[])[]): unknown[][] =>
    rows[0]!.map((_, index) => rows.map((row) => row[index]))
  await run(
    'insert into plan_nodes select * from unnest($1::text[], $2::int[], $3::bigint[], $4::bigint[], $5::bigint[], $6::int[])',
    columns(nodes),
  )
  await run(
    'insert into plan_parts select * from unnest($1::text[], $2::text[], $3::bigint[], $4::bigint[])',
    columns(
      input.nodes.flatMap((n) =>
        n.source.kind === 'make' ? n.source.components.map((c) => [n.id, c.node, c.numerator, c.denominator]) : [],
      ),
    ),
  )
  await run(
    'insert into plan_demands select * from unnest($1::text[], $2::int[], $3::bigint[])',
    columns(input.demands.map((d) => [d.node, toDay(d.day) - START, d.quantity])),
  )
  await run('create index on plan_parts (child)')
  await run('create index on plan_orders (node)')
  await run('create index on plan_demands (node)')
  await run('analyze plan_nodes, plan_parts, plan_demands')
  const begun = performance.now()
  for (let level = 0; level < levels; level++) {
    await run(
      `insert into plan_orders
      with wanted as (
        select d.node, d.day, d.quantity from plan_demands d join plan_nodes n on n.id = d.node and n.level = $1
        union all select p.child, o.release, (o.quantity * p.numerator + p.denominator - 1) / p.denominator from plan_nodes n join plan_parts p on p.child = n.id join plan_orders o on o.node = p.parent where n.level = $1
        union all select id, 0, 0 from plan_nodes where level = $1),
      days as (select node, day, sum(quantity) as quantity from wanted where day < ${DAYS} group by 1, 2),
      missing as (select d.node, d.day, n.multiple, n.lead, n.safety - n.on_hand + sum(d.quantity) over (partition by d.node order by d.day) as amount from days d join plan_nodes n on n.id = d.node),
      most as (select node, day, lead, multiple, greatest(0, max(amount) over (partition by node order by day)) as amount from missing),
      ordered as (select node, day, lead, (amount + multiple - 1)::bigint / multiple * multiple as amount from most)
      select node, day, greatest(0, day - lead), quantity from (select node, day, lead, amount - lag(amount, 1, 0::bigint) over (partition by node order by day) as quantity from ordered) o where quantity > 0`,
      [level],
    )
    await run('analyze plan_orders')
  }
  const took = performance.now() - begun
  const {
    rows: [sum],
  } = await client.query<{ orders: number; quantity: string }>(
    'select count(*)::int as orders, sum(quantity)::text as quantity from plan_orders',
  )
  await run('drop table plan_nodes, plan_parts, plan_demands, plan_orders')
  client.release()
  return { took, orders: sum!.orders, quantity: Number(sum!.quantity) }
}

/** The engine and the sets on the same snapshot; they must come to the same orders. */
async function besideSets(): Promise<Figure[]> {
  const mixed = makeInput(10_000, 100_000)
  const input: PlanInput = {
    ...mixed,
    nodes: mixed.nodes.map((node) => ({
      ...node,
      rule: undefined,
      source: node.source.kind === 'none' ? node.source : { ...node.source, calendar: null, minimum: 0 },
    })),
  }
  let plan: NetPlan | null = null
  const took = await best(3, () => {
    const made = NetPlan.open(input)
    if (made.ok) {
      plan = made.value
    }
  })
  const { orders } = plan as unknown as NetPlan
  let quantity = 0
  for (let i = 0; i < orders.size; i++) {
    quantity += orders.quantity[i]!
  }
  const sets = await asSets(input, 6)
  if (sets.orders !== orders.size || sets.quantity !== quantity) {
    throw new Error(
      `The sets come to ${sets.orders} orders of ${sets.quantity}, the engine to ${orders.size} of ${quantity}`,
    )
  }
  return [
    {
      bench: 'planning',
      figure: `plan of 10 000 items by exact quantities and multiples, ${(orders.size / 1000).toFixed(0)} 000 planned orders`,
      value: took / 1000,
      unit: 's',
      comparedWith: `the same as set-based SQL, level by level (${(sets.took / 1000).toFixed(1)} s, the same orders)`,
      ratio: took / sets.took,
    },
  ]
}

/**
 * The demand of one item at the top raised on a plan that is open and written out, with all that the plan says then.
 */
async function tried(input: PlanInput, anew: number): Promise<Figure> {
  const live = LivePlan.open(input)
  if (!live.ok) {
    throw new Error(live.error.code)
  }
  live.value.output()
  let slowest = 0
  for (let i = 0; i < 5; i++) {
    const changed = applyWhatIf(input, [{ kind: 'demand', nodes: [`0.${i * 37}`], percent: 20 }])
    slowest = Math.max(
      slowest,
      await best(1, () => {
        live.value.turnInto(changed)
        live.value.output()
      }),
    )
  }
  return {
    bench: 'planning',
    figure: `the demand of one item tried on an open plan of ${input.nodes.length} items, slowest of 5`,
    value: slowest,
    unit: 'ms',
    comparedWith: 'the plan made and written anew',
    ratio: slowest / anew,
  }
}

/** One number of one item changed: at the top, where most is reached, in the middle and at the bottom. */
async function netChange(plan: NetPlan): Promise<Figure[]> {
  const figures: Figure[] = []
  for (const level of [0, 3, 5]) {
    let slowest = 0
    let most = 0
    let sum = 0
    for (let i = 0; i < 30; i++) {
      const node = plan.compiled.nodes[plan.compiled.at.get(`${level}.${i * 37}`)!]!
      const begun = performance.now()
      const done = plan.change([{ node: { ...node, safety: node.safety + 50 } }])
      const took = performance.now() - begun
      slowest = Math.max(slowest, took)
      sum += took
      if (done.ok) {
        most = Math.max(most, done.value.reached.length)
      }
    }
    figures.push({
      bench: 'planning',
      figure: `net change of an item at level ${level}, slowest of 30 (up to ${most} items reached; ${(sum / 30).toFixed(1)} ms in the mean)`,
      value: slowest,
      unit: 'ms',
      comparedWith: 'the 50 ms that it may take',
      ratio: slowest / 50,
    })
  }
  return figures
}
