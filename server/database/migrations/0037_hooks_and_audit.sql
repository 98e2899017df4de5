-- What was noted of changes and sign-ins is neither changed nor removed.
create trigger changes_only_grow before update or delete on changes for each row execute function ledger_only_grows();
--> statement-breakpoint
create trigger changes_never_emptied before truncate on changes for each statement execute function ledger_only_grows();
--> statement-breakpoint
-- What other programs are to be told is written with what happened. A reversal is told as what it takes back.
create function tell_hooks_of_posting() returns trigger language plpgsql as $$
declare
  meant text := coalesce((select p.kind from postings p where p.id = new.reverses_id), new.kind);
  own text := case
    when meant = 'goods receipt' then 'receipts'
    when meant = 'shipment' then 'shipments'
    when meant in ('build', 'kit packing', 'unpacking', 'break-down', 'cut') then 'builds'
  end;
begin
  insert into hook_calls (hook_id, event, about, posting_id)
  select h.id, e.event, coalesce(new.document_kind || ' ' || new.document_id, 'posting ' || new.id), new.id
  from web_hooks h cross join lateral unnest(h.events) as e(event)
  where h.active and (e.event = 'stock' or e.event = own);
  if found then
    perform pg_notify('hook_calls', '');
  end if;
  return null;
end $$;
--> statement-breakpoint
create trigger hooks_of_posting after insert on postings for each row execute function tell_hooks_of_posting();
--> statement-breakpoint
create function tell_hooks_of_change() returns trigger language plpgsql as $$
begin
  insert into hook_calls (hook_id, event, about, change_id)
  select h.id, 'orders', new.entity || ' ' || new.entity_id, new.id
  from web_hooks h
  where h.active and 'orders' = any(h.events);
  if found then
    perform pg_notify('hook_calls', '');
  end if;
  return null;
end $$;
--> statement-breakpoint
create trigger hooks_of_change after insert on changes for each row
  when (new.entity in ('sales order', 'purchase order')) execute function tell_hooks_of_change();
