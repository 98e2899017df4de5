-- The ledger only grows: no role, not even the owner of the tables, changes or removes what was recorded.
create function ledger_only_grows() returns trigger language plpgsql as $$
begin
  raise exception 'The ledger only grows: % of % is refused. Reverse it with a counter-entry.', lower(tg_op), tg_table_name
    using errcode = 'restrict_violation';
end $$;
--> statement-breakpoint
create trigger moves_only_grow before update or delete on moves for each row execute function ledger_only_grows();
--> statement-breakpoint
create trigger moves_never_emptied before truncate on moves for each statement execute function ledger_only_grows();
--> statement-breakpoint
create trigger postings_only_grow before update or delete on postings for each row execute function ledger_only_grows();
--> statement-breakpoint
create trigger postings_never_emptied before truncate on postings for each statement execute function ledger_only_grows();
--> statement-breakpoint
do $$ begin
  execute format('revoke update, delete, truncate on moves, postings from %I', current_user);
end $$;
--> statement-breakpoint
-- The value journal: two sides for every move, and for the work that a build added. Debit positive, credit negative, minor units.
create view journal as
  with ends as (
    select m.posting_id, m.id as move_id, m.item_id, m.value, m.variance, f.kind as from_kind, t.kind as to_kind, f.site_id as from_site, t.site_id as to_site
    from moves m join places f on f.id = m.from_place_id join places t on t.id = m.to_place_id)
  select posting_id, move_id, item_id, to_kind as place_kind, to_site as site_id, value + (case when to_kind = 'bin' then 0 else variance end) as amount from ends
  union all
  select posting_id, move_id, item_id, from_kind, from_site, -(value + (case when from_kind = 'bin' then 0 else variance end)) from ends
  union all
  select posting_id, move_id, item_id, 'variance', null, -variance from ends where variance <> 0
  union all
  select id, null, null, 'workshop', null, work_value from postings where work_value <> 0
  union all
  select id, null, null, 'work', null, -work_value from postings where work_value <> 0;
