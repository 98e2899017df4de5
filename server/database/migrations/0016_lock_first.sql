-- Rows that are there are locked and read at once; only what is missing is made first. What a posting touches is nearly always there.
create or replace function lock_stock(ends jsonb, alone boolean) returns jsonb language plpgsql as $$
declare
  held jsonb;
  lying jsonb;
  pools int;
  spots int;
begin
  if alone then perform pg_advisory_xact_lock(7301); else perform pg_advisory_xact_lock_shared(7301); end if;
  for tries in 1..2 loop
    with wanted as (select distinct e.i, coalesce(p.site_id, 0) as s, case when p.kind = 'transit' then e.t else 0 end as t from jsonb_to_recordset(ends) as e(i int, p int, t int) join places p on p.id = e.p where p.kind in ('bin', 'transit')),
      h as (select h.* from holdings h join wanted w on h.item_id = w.i and h.site_id = w.s and h.line_id = w.t order by h.item_id, h.site_id, h.line_id for update of h)
    select (select count(*) from wanted), jsonb_agg(jsonb_build_object('item', h.item_id, 'site', h.site_id, 'line', h.line_id, 'quantity', h.quantity::text, 'value', h.value::text,
        'n', h.unit_numerator::text, 'd', h.unit_denominator::text, 'layers', h.layers, 'lastOn', h.last_on, 'method', i.costing, 'standard', i.standard_cost::text)) into pools, held
      from h join items i on i.id = h.item_id;
    exit when pools = 0 or pools = jsonb_array_length(held);
    insert into holdings (item_id, site_id, line_id)
      select distinct e.i, coalesce(p.site_id, 0), case when p.kind = 'transit' then e.t else 0 end
      from jsonb_to_recordset(ends) as e(i int, p int, t int) join places p on p.id = e.p
      where p.kind in ('bin', 'transit') and not exists (select 1 from holdings h where h.item_id = e.i and h.site_id = coalesce(p.site_id, 0) and h.line_id = case when p.kind = 'transit' then e.t else 0 end)
      order by 1, 2, 3 on conflict do nothing;
  end loop;
  for tries in 1..2 loop
    with wanted as (select distinct e.i, e.p, e.l, e.c, e.s from jsonb_to_recordset(ends) as e(i int, p int, l int, c int, s text) join places p on p.id = e.p where p.kind in ('bin', 'transit')),
      b as (select b.* from balances b join wanted e on b.item_id = e.i and b.place_id = e.p and b.lot_id is not distinct from e.l and b.piece_id is not distinct from e.c and b.status = e.s
        order by b.item_id, b.place_id, b.lot_id, b.piece_id, b.status for update of b)
    select (select count(*) from wanted), jsonb_agg(jsonb_build_object('id', b.id, 'item', b.item_id, 'place', b.place_id, 'lot', b.lot_id, 'piece', b.piece_id, 'status', b.status, 'onHand', b.on_hand::text, 'allocated', b.allocated::text)) into spots, lying
      from b;
    exit when spots = 0 or spots = jsonb_array_length(lying);
    insert into balances (item_id, place_id, lot_id, piece_id, status)
      select distinct e.i, e.p, e.l, e.c, e.s from jsonb_to_recordset(ends) as e(i int, p int, l int, c int, s text) join places p on p.id = e.p
      where p.kind in ('bin', 'transit') and not exists (select 1 from balances b where b.item_id = e.i and b.place_id = e.p and b.lot_id is not distinct from e.l and b.piece_id is not distinct from e.c and b.status = e.s)
      order by 1, 2, 3, 4, 5 on conflict do nothing;
  end loop;
  return jsonb_build_object('holdings', coalesce(held, '[]'), 'balances', coalesce(lying, '[]'), 'closedThrough', (select closed_through from company),
    'places', (select jsonb_agg(jsonb_build_object('id', p.id, 'kind', p.kind, 'site', p.site_id)) from places p where p.id in (select (e->>'p')::int from jsonb_array_elements(ends) e)));
end $$;
