-- What is recorded for a day before that of a later move works cost out again, which keeps all other postings out. Whoever is to do that takes the lock
-- alone at once: taken shared first, two of them would wait for each other.
create function lock_stock(ends jsonb, alone boolean, on_day date) returns jsonb language sql as $$
  select lock_stock(ends, alone or exists (
    select 1
    from jsonb_to_recordset(ends) as e(i int, p int, t int)
    join places p on p.id = e.p and p.kind in ('bin', 'transit')
    join holdings h on h.item_id = e.i
      and h.site_id = coalesce(p.site_id, 0)
      and h.line_id = case when p.kind = 'transit' then e.t else 0 end
    where h.last_on > on_day))
$$;
