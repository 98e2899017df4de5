import { pool } from '~~/server/database/client'

export const ITEMS = 50_000
export const LOTS = 200_000
export const MOVES_A_LOT = 10

/**
 * Fills a company with stock: items of four lots each; every lot was received once and left in nine parts over two
 * years; the last tenth is still there.
 *
 * Written by the database itself: what is measured later is reading and posting, not this.
 */
export async function fillStock(): Promise<void> {
  const client = await pool.connect()
  const run = async (text: string): Promise<void> => {
    await client.query(text)
  }
  // References are right by the way they are made; looking each of millions up is left out.
  await run('set session_replication_role = replica')
  await run(`insert into sites (code, name) select 'BENCH-' || n, 'Site ' || n from generate_series(1, 3) n`)
  await run(
    `insert into places (code, name, kind, site_id, pick_order) select 'B-' || n, 'Bin ' || n, 'bin', (select min(id) from sites where code like 'BENCH-%') + n % 3, n from generate_series(1, 60) n`,
  )
  await run(`insert into items (code, name, group_id, stock_unit, buying_unit, selling_unit, making_unit, finest_step, tracking, costing)
    select 'STOCK-' || lpad(n::text, 6, '0'), 'Stocked item ' || n, (select min(id) from item_groups), 'piece', 'piece', 'piece', 'piece', 1, 'lot', (array['moving average', 'first in, first out'])[1 + n % 2] from generate_series(1, ${ITEMS}) n`)
  await run(`insert into lots (item_id, number, received_on, expires_on, traits)
    select i.id, 'L-' || i.id || '-' || n, date '2024-10-01' + (i.id * 7 + n * 90) % 360, date '2027-01-01' + (i.id + n) % 700, jsonb_build_object('dye lot', 'D' || (i.id + n) % 97) from items i, generate_series(1, ${LOTS / ITEMS}) n where i.code like 'STOCK-%'`)
  await run(
    `create table bench_lots as select l.id as lot, l.item_id as item, l.received_on as day, (select min(id) from places where code like 'B-%') + (l.id * 7) % 60 as place, row_number() over (order by l.id) - 1 as n from lots l join items i on i.id = l.item_id where i.code like 'STOCK-%'`,
  )
  // A wave is the receipt or one of the nine issues of every lot: ten thousand postings of twenty moves.
  await run(
    `insert into postings (kind, label, effective_on, user_id) select case when w = 0 then 'goods receipt' else 'shipment' end, 'Bench ' || w || '/' || p, date '2024-10-01' + (w * 70 + p % 70), 1 from generate_series(0, ${MOVES_A_LOT - 1}) w, generate_series(0, 9999) p order by w, p`,
  )
  await run(
    `create table bench_postings as select id, kind, effective_on, split_part(substr(label, 7), '/', 1)::int as w, split_part(label, '/', 2)::bigint as p from postings where label like 'Bench %'`,
  )
  await run('analyze bench_postings, bench_lots')
  await run(`insert into moves (posting_id, line, item_id, lot_id, effective_on, quantity, from_place_id, from_status, to_place_id, to_status, entered_quantity, entered_unit, value, basis)
    select o.id, 1 + b.n / 10000, b.item, b.lot, o.effective_on, case when o.w > 0 then 100 else 1000 end, case when o.w > 0 then b.place else s.id end, case when o.w > 0 then 'available' end, case when o.w > 0 then c.id else b.place end,
      case when o.w = 0 then 'available' end, case when o.w > 0 then '100' else '1000' end, 'piece', case when o.w > 0 then 1000 else 10000 end, case when o.w > 0 then 'method' else 'stated' end
    from bench_lots b join bench_postings o on o.p = b.n % 10000, (select id from places where kind = 'supplier') s, (select id from places where kind = 'customer') c order by o.id`)
  await run(
    `insert into balances (item_id, place_id, lot_id, status, on_hand) select item, place, lot, 'available', ${1000 - 100 * (MOVES_A_LOT - 1)} from bench_lots`,
  )
  await run(`insert into holdings (item_id, site_id, quantity, value, last_on, layers)
    select b.item, p.site_id, count(*) * 100, count(*) * 1000, date '2026-09-01', case when i.costing = 'moving average' then '[]'::jsonb else jsonb_agg(jsonb_build_object('origin', '', 'on', b.day, 'at', b.n, 'quantity', '100', 'value', '1000')) end
    from bench_lots b join places p on p.id = b.place join items i on i.id = b.item group by 1, 2, i.costing`)
  await run('set session_replication_role = default')
  client.release()
}

/**
 * Builds in three levels: five lots and one of ten glues make a lot, five of those the next, five of these the last.
 *
 * The first glue goes into 2 000 builds, and through them into 480 more.
 */
export async function fillBuilds(): Promise<void> {
  const client = await pool.connect()
  const run = async (text: string): Promise<void> => {
    await client.query(text)
  }
  await run('set session_replication_role = replica')
  await run('create unique index bench_lots_n on bench_lots (n)')
  await run(
    `create table bench_builds as select b as build, 100000 + b as makes, 1 as level from generate_series(0, 19999) b union all select 20000 + c, 120000 + c, 2 from generate_series(0, 3999) c union all select 24000 + d, 124000 + d, 3 from generate_series(0, 799) d`,
  )
  await run(
    `insert into postings (kind, label, effective_on, user_id) select 'build', 'Made ' || build, date '2026-08-01' + level, 1 from bench_builds order by build`,
  )
  await run(
    `create table bench_acts as select id, split_part(label, ' ', 2)::int as build from postings where label like 'Made %'`,
  )
  await run(`create table bench_takes as
    select build, build * 5 + 10 + k as n from bench_builds, generate_series(0, 3) k where level = 1 union all select build, build / 2000 from bench_builds where level = 1
    union all select build, 100000 + (build - 20000) * 5 + k from bench_builds, generate_series(0, 4) k where level = 2 union all select build, 120000 + (build - 24000) * 5 + k from bench_builds, generate_series(0, 4) k where level = 3`)
  const columns =
    'posting_id, line, item_id, lot_id, effective_on, quantity, from_place_id, from_status, to_place_id, to_status, entered_quantity, entered_unit, value, basis'
  const work = `(select id from places where kind = 'workshop')`
  await run(
    `insert into moves (${columns}) select a.id, row_number() over (partition by a.id order by t.n), b.item, b.lot, date '2026-08-02', case when t.n < 10 then 0.01 else 1 end, b.place, 'available', ${work}, null, '1', 'piece', 10, 'method' from bench_takes t join bench_acts a on a.build = t.build join bench_lots b on b.n = t.n`,
  )
  await run(
    `insert into moves (${columns}) select a.id, 99, b.item, b.lot, date '2026-08-02', 1, ${work}, null, b.place, 'available', '1', 'piece', 50, 'share' from bench_builds m join bench_acts a on a.build = m.build join bench_lots b on b.n = m.makes`,
  )
  await run(`update balances b set on_hand = on_hand + x.change from (select item_id, place_id, lot_id, sum(change) as change from (
    select m.item_id, m.to_place_id as place_id, m.lot_id, m.quantity as change from moves m join bench_acts a on a.id = m.posting_id where m.to_status is not null
    union all select m.item_id, m.from_place_id, m.lot_id, -m.quantity from moves m join bench_acts a on a.id = m.posting_id where m.from_status is not null) e group by 1, 2, 3) x where b.item_id = x.item_id and b.place_id = x.place_id and b.lot_id = x.lot_id`)
  await run('set session_replication_role = default')
  await run('vacuum analyze')
  client.release()
}
