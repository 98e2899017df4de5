import { pool } from '~~/server/database/client'

const LEVELS = 6

/**
 * Fills a company with what a plan reads: items of six levels, four components for each that is made, stock of each,
 * orders of customers over a year.
 *
 * Written by the database itself: what is measured later is reading, not this.
 */
export async function fillPlanning(items: number, demands: number): Promise<void> {
  const perLevel = Math.floor(items / LEVELS)
  const client = await pool.connect()
  const run = async (text: string): Promise<void> => {
    await client.query(text)
  }
  // References are right by the way they are made; looking each of a million up is left out.
  await run('set session_replication_role = replica')
  await run(`insert into items (code, name, group_id, stock_unit, buying_unit, selling_unit, making_unit, finest_step, source, lead_days, safety_stock, order_rule, cover_days, usual_order)
    select 'PLAN-' || l || '-' || n, 'Planned ' || l || ' ' || n, (select min(id) from item_groups), 'piece', 'piece', 'piece', 'piece', 1, case when l < ${LEVELS - 1} then 'made' else 'bought' end, 2 + n % 4, n % 20,
      (array['exact', 'cover', 'fixed', 'exact'])[1 + n % 4], 7, 100 from generate_series(0, ${LEVELS - 1}) l, generate_series(0, ${perLevel - 1}) n`)
  await run(
    `create table bench_items as select id, split_part(code, '-', 2)::int as l, split_part(code, '-', 3)::int as n from items where code like 'PLAN-%'; create unique index on bench_items (l, n); create index on bench_items (id); analyze bench_items`,
  )
  await run(
    `insert into boms (item_id, name, from_on, batch_size, batch_unit) select id, 'PLAN-' || l || '-' || n || ' 1', '2026-01-01', 2, 'piece' from bench_items where l < ${LEVELS - 1}`,
  )
  await run(
    `insert into bom_lines (bom_id, position, item_id, numerator, unit) select b.id, p, c.id, 1 + (i.n + p) % 3, 'piece' from boms b join bench_items i on i.id = b.item_id, generate_series(1, 4) p, bench_items c where c.l = i.l + 1 and c.n = (i.n * 4 + p * 3) % ${perLevel}`,
  )
  await run(
    `insert into supplier_terms (item_id, supplier_id, rank, unit, price, minimum, multiple, lead_days) select id, (select min(id) from suppliers) + n % 5, 1, 'piece', 1.5, 50, 25, 5 + n % 20 from bench_items where l = ${LEVELS - 1}`,
  )
  await run(
    `insert into balances (item_id, place_id, status, on_hand) select id, (select min(id) from places where site_id is not null and not closed_to_picking), 'available', (n * 37) % 500 from bench_items where (n * 37) % 500 > 0`,
  )
  await run(
    `insert into sales_orders (number, customer_id, ordered_on, due_on) select 'BENCH-' || o, (select min(id) from customers), '2026-10-01', date '2026-10-05' + (o * 7) % 365 from generate_series(1, ${demands / 10}) o`,
  )
  await run(
    `insert into sales_lines (order_id, line, item_id, entered, unit, quantity) select o.id, k, i.id, '1', 'piece', 1 + (o.id + k * 7) % 40 from sales_orders o, generate_series(1, 10) k, bench_items i where o.number like 'BENCH-%' and i.l = (o.id + k) % ${LEVELS} and i.n = (o.id * 13 + k * 331) % ${perLevel}`,
  )
  await run('set session_replication_role = origin')
  await run('analyze items, boms, bom_lines, supplier_terms, balances, sales_orders, sales_lines')
  client.release()
}
