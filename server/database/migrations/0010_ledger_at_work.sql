-- What was worth more or less, and what stands beside moves, is as final as the moves.
create trigger adjustments_only_grow before update or delete on adjustments for each row execute function ledger_only_grows();
--> statement-breakpoint
create trigger adjustments_never_emptied before truncate on adjustments for each statement execute function ledger_only_grows();
--> statement-breakpoint
create trigger entries_only_grow before update or delete on entries for each row execute function ledger_only_grows();
--> statement-breakpoint
create trigger entries_never_emptied before truncate on entries for each statement execute function ledger_only_grows();
--> statement-breakpoint
do $$ begin
  execute format('revoke update, delete, truncate on adjustments, entries from %I', current_user);
end $$;
--> statement-breakpoint
-- Every amount of money that a move has, or turned out to have, in the order of recording.
create view amounts as
  select id as move_id, posting_id, effective_on, value, variance, restated from moves
  union all
  select move_id, posting_id, effective_on, value, variance, restated from adjustments;
--> statement-breakpoint
drop view journal;
--> statement-breakpoint
-- The value journal: debit positive, credit negative, minor units; the lines of a posting sum to nothing.
-- What enters a stock takes value from the other end, which gives value and variance; what leaves for the outside gives it both.
-- Site 0 is on the way between sites.
create view journal as
  with ends as (
    select a.posting_id, a.move_id, a.effective_on, m.item_id, m.lot_id, a.value, a.variance, a.restated, m.basis, f.kind as from_kind, t.kind as to_kind,
      case when f.kind = 'transit' then 0 else f.site_id end as from_site, case when t.kind = 'transit' then 0 else t.site_id end as to_site,
      f.kind in ('bin', 'transit') as leaves, t.kind in ('bin', 'transit') as enters
    from amounts a join moves m on m.id = a.move_id join places f on f.id = m.from_place_id join places t on t.id = m.to_place_id)
  select posting_id, move_id, effective_on, item_id, to_kind as place_kind, to_site as site_id, value + case when enters then 0 else variance end as amount from ends
  union all
  select posting_id, move_id, effective_on, item_id, from_kind, from_site, -(value + case when enters then variance else 0 end) from ends
  union all
  select posting_id, move_id, effective_on, item_id, 'variance', null, case when enters then variance else -variance end - restated from ends where variance <> 0 or restated <> 0
  union all
  select posting_id, move_id, effective_on, item_id, 'bin', case when leaves and (basis = 'back' or not enters) then from_site else to_site end, restated from ends where restated <> 0
  union all
  select id, null, effective_on, null, 'workshop', null, work_value from postings where work_value <> 0
  union all
  select id, null, effective_on, null, 'work', null, -work_value from postings where work_value <> 0
  union all
  select posting_id, null, effective_on, item_id, account, site_id, amount from entries;
--> statement-breakpoint
-- Locks what a posting touches, in one fixed order: holdings by item, site and line; then balances by item, place, lot, piece and status.
-- Missing rows are made first. `ends`: [{"i": item, "p": place, "l": lot, "c": piece, "s": status, "t": transfer line}].
-- Working out cost again keeps all other postings out for that time; they keep only it out.
create function lock_stock(ends jsonb, alone boolean) returns jsonb language plpgsql as $$
declare
  held jsonb;
  lying jsonb;
begin
  if alone then perform pg_advisory_xact_lock(7301); else perform pg_advisory_xact_lock_shared(7301); end if;
  insert into holdings (item_id, site_id, line_id)
    select distinct e.i, coalesce(p.site_id, 0), case when p.kind = 'transit' then e.t else 0 end
    from jsonb_to_recordset(ends) as e(i int, p int, t int) join places p on p.id = e.p
    where p.kind in ('bin', 'transit') and not exists (select 1 from holdings h where h.item_id = e.i and h.site_id = coalesce(p.site_id, 0) and h.line_id = case when p.kind = 'transit' then e.t else 0 end)
    order by 1, 2, 3 on conflict do nothing;
  select jsonb_agg(jsonb_build_object('item', h.item_id, 'site', h.site_id, 'line', h.line_id, 'quantity', h.quantity::text, 'value', h.value::text,
      'n', h.unit_numerator::text, 'd', h.unit_denominator::text, 'layers', h.layers, 'lastOn', h.last_on, 'method', i.costing, 'standard', i.standard_cost::text)) into held
    from (select h.* from holdings h where (h.item_id, h.site_id, h.line_id) in (
      select e.i, coalesce(p.site_id, 0), case when p.kind = 'transit' then e.t else 0 end from jsonb_to_recordset(ends) as e(i int, p int, t int) join places p on p.id = e.p where p.kind in ('bin', 'transit'))
      order by h.item_id, h.site_id, h.line_id for update of h) h join items i on i.id = h.item_id;
  insert into balances (item_id, place_id, lot_id, piece_id, status)
    select distinct e.i, e.p, e.l, e.c, e.s from jsonb_to_recordset(ends) as e(i int, p int, l int, c int, s text) join places p on p.id = e.p
    where p.kind in ('bin', 'transit') and not exists (select 1 from balances b where b.item_id = e.i and b.place_id = e.p and b.lot_id is not distinct from e.l and b.piece_id is not distinct from e.c and b.status = e.s)
    order by 1, 2, 3, 4, 5 on conflict do nothing;
  select jsonb_agg(jsonb_build_object('id', b.id, 'item', b.item_id, 'place', b.place_id, 'lot', b.lot_id, 'piece', b.piece_id, 'status', b.status, 'onHand', b.on_hand::text, 'allocated', b.allocated::text)) into lying
    from (select b.* from balances b join jsonb_to_recordset(ends) as e(i int, p int, l int, c int, s text)
      on b.item_id = e.i and b.place_id = e.p and b.lot_id is not distinct from e.l and b.piece_id is not distinct from e.c and b.status = e.s
      order by b.item_id, b.place_id, b.lot_id, b.piece_id, b.status for update of b) b;
  return jsonb_build_object('holdings', coalesce(held, '[]'), 'balances', coalesce(lying, '[]'), 'closedThrough', (select closed_through from company),
    'places', (select jsonb_agg(jsonb_build_object('id', p.id, 'kind', p.kind, 'site', p.site_id)) from places p where p.id in (select (e->>'p')::int from jsonb_array_elements(ends) e)));
end $$;
--> statement-breakpoint
-- Writes a posting as core has worked it out: the act, its moves, and the balances and holdings that they leave. The posting's id, then its moves' in order.
create function record_posting(act jsonb, lines jsonb, lying jsonb, held jsonb) returns bigint[] language plpgsql as $$
declare
  posting int;
  ids bigint[];
begin
  insert into postings (kind, label, document_kind, document_id, reason, effective_on, user_id, work_value, reverses_id)
    select kind, label, document_kind, document_id, reason, effective_on, user_id, work_value, reverses_id
    from jsonb_to_record(act) as a(kind text, label text, document_kind text, document_id int, reason text, effective_on date, user_id int, work_value bigint, reverses_id int) returning id into posting;
  with fresh as (
    insert into moves (posting_id, line, item_id, lot_id, piece_id, effective_on, quantity, from_place_id, from_status, to_place_id, to_status, entered_quantity, entered_unit,
        residue_numerator, residue_denominator, value, variance, restated, basis, weight_numerator, weight_denominator, reverses_id, document_line_id)
      select posting, line, item, lot, piece, (act->>'effective_on')::date, quantity, from_place, from_status, to_place, to_status, entered, unit, rn, rd, value, variance, restated, basis, wn, wd, reverses, document_line
      from jsonb_to_recordset(lines) as l(line int, item int, lot int, piece int, quantity numeric, from_place int, from_status text, to_place int, to_status text, entered text, unit text,
        rn numeric, rd numeric, value bigint, variance bigint, restated bigint, basis text, wn numeric, wd numeric, reverses bigint, document_line int) order by line returning id, line)
  select array_agg(id order by line) into ids from fresh;
  update balances b set on_hand = v.on_hand, allocated = v.allocated from jsonb_to_recordset(lying) as v(id int, on_hand numeric, allocated numeric) where b.id = v.id;
  update holdings h set quantity = v.quantity, value = v.value, unit_numerator = v.n, unit_denominator = v.d, layers = coalesce(v.layers, '[]'), last_on = greatest(h.last_on, v.last_on)
    from jsonb_to_recordset(held) as v(item int, site int, line int, quantity numeric, value bigint, n numeric, d numeric, layers jsonb, last_on date)
    where h.item_id = v.item and h.site_id = v.site and h.line_id = v.line;
  return posting || ids;
end $$;
