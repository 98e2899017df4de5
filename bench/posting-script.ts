/**
 * One of the five lines: a move, what lies there, and what it is worth. `n` counts from 0; each takes another stretch
 * of the lots.
 */
const lineScript = (n: number): string => `
insert into moves (
  posting_id, line, item_id, lot_id, effective_on, quantity, from_place_id, to_place_id, to_status,
  entered_quantity, entered_unit, value, basis
)
select
  currval('postings_id_seq'), ${n + 1}, item, lot, '2026-10-05', 5,
  (select id from places where kind = 'supplier'), place, 'available', '5', 'piece', 50, 'stated'
from bench_lots
where n = :i + ${n * 20000};
update balances
set on_hand = on_hand + 5
where (item_id, place_id, lot_id, status) = (
  select item, place, lot, 'available' from bench_lots where n = :i + ${n * 20000}
) and piece_id is null;
update holdings
set quantity = quantity + 5, value = value + 50
where (item_id, site_id) = (
  select item, site_id from bench_lots b join places p on p.id = b.place where n = :i + ${n * 20000}
) and line_id = 0;`

/**
 * What a posting of five lines writes, as bare statements with nothing decided: the least that PostgreSQL needs for it.
 * In the language of pgbench.
 */
export const BARE_POSTING = `
\\set i random(1, 40000)
begin;
insert into answers (key, user_id) values (gen_random_uuid(), 1) returning key as own \\gset
insert into postings (kind, label, effective_on, user_id) values ('goods receipt', 'bare', '2026-10-05', 1);
${[0, 1, 2, 3, 4].map(lineScript).join('\n')}
update answers set answer = '{"postingId": 1}' where key = :own;
commit;
`
