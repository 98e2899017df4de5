-- Names by which things are found: one row per item, one per other code of it, one per supplier, customer and bin. Kept by
-- triggers, so that whatever writes a definition, what is found is right.
drop index items_find;
--> statement-breakpoint
create table names (kind text not null, ref integer not null, code text not null, name text not null, unit text, retired boolean not null default false,
  words text[] generated always as (regexp_split_to_array(lower(code || ' ' || name), '[^[:alnum:]]+')) stored);
--> statement-breakpoint
-- Every word that a name has ever had: a misspelt word is looked up among these, which is quick however many names share it.
create table words (word text primary key);
--> statement-breakpoint
create index words_near on words using gin (word gin_trgm_ops) with (fastupdate = off);
--> statement-breakpoint
create function names_words() returns trigger language plpgsql as $$ begin
  insert into words select distinct w from fresh, unnest(fresh.words) w where length(w) between 2 and 40 on conflict do nothing;
  return null;
end $$;
--> statement-breakpoint
create trigger names_words after insert on names referencing new table as fresh for each statement execute function names_words();
--> statement-breakpoint
create index names_words on names using gin (words) with (fastupdate = off);
--> statement-breakpoint
create index names_find on names using gin ((code || ' ' || name) gin_trgm_ops) with (fastupdate = off);
--> statement-breakpoint
create index names_code on names (lower(code) text_pattern_ops);
--> statement-breakpoint
create index names_ref on names (ref, kind);
--> statement-breakpoint
create function items_gone() returns trigger language plpgsql as $$ begin
  delete from names n using gone g where n.ref = g.id and n.kind in ('item', 'item code');
  return null;
end $$;
--> statement-breakpoint
create function items_new() returns trigger language plpgsql as $$ begin
  insert into names (kind, ref, code, name, unit, retired) select 'item', id, code, trim(name || ' ' || name2), null, status = 'retired' from fresh;
  return null;
end $$;
--> statement-breakpoint
create function items_named() returns trigger language plpgsql as $$ begin
  delete from names n using fresh f join gone g on g.id = f.id where n.ref = f.id and n.kind in ('item', 'item code') and (f.code, f.name, f.name2, f.status) is distinct from (g.code, g.name, g.name2, g.status);
  insert into names (kind, ref, code, name, unit, retired) select 'item', f.id, f.code, trim(f.name || ' ' || f.name2), null, f.status = 'retired' from fresh f join gone g on g.id = f.id
    where (f.code, f.name, f.name2, f.status) is distinct from (g.code, g.name, g.name2, g.status);
  insert into names (kind, ref, code, name, unit, retired) select 'item code', c.item_id, c.code, trim(f.name || ' ' || c.whose), c.unit, f.status = 'retired' from fresh f join gone g on g.id = f.id join item_codes c on c.item_id = f.id
    where (f.code, f.name, f.name2, f.status) is distinct from (g.code, g.name, g.name2, g.status);
  return null;
end $$;
--> statement-breakpoint
create function item_codes_gone() returns trigger language plpgsql as $$ begin
  delete from names n using gone g where n.kind = 'item code' and n.ref = g.item_id and n.code = g.code;
  return null;
end $$;
--> statement-breakpoint
create function item_codes_new() returns trigger language plpgsql as $$ begin
  insert into names (kind, ref, code, name, unit, retired) select 'item code', f.item_id, f.code, trim(i.name || ' ' || f.whose), f.unit, i.status = 'retired' from fresh f join items i on i.id = f.item_id;
  return null;
end $$;
--> statement-breakpoint
create function party_named() returns trigger language plpgsql as $$ begin
  if tg_op <> 'INSERT' then delete from names where kind = tg_argv[0] and ref = old.id; end if;
  if tg_op <> 'DELETE' then
    insert into names (kind, ref, code, name, unit, retired) values (tg_argv[0], new.id, new.code, new.name, null, new.retired);
  end if;
  return null;
end $$;
--> statement-breakpoint
create trigger items_gone after delete on items referencing old table as gone for each statement execute function items_gone();
--> statement-breakpoint
create trigger items_new after insert on items referencing new table as fresh for each statement execute function items_new();
--> statement-breakpoint
create trigger items_named after update on items referencing old table as gone new table as fresh for each statement execute function items_named();
--> statement-breakpoint
create trigger item_codes_gone after delete on item_codes referencing old table as gone for each statement execute function item_codes_gone();
--> statement-breakpoint
create trigger item_codes_new after insert on item_codes referencing new table as fresh for each statement execute function item_codes_new();
--> statement-breakpoint
create trigger supplier_named after insert or update of code, name, retired or delete on suppliers for each row execute function party_named('supplier');
--> statement-breakpoint
create trigger customer_named after insert or update of code, name, retired or delete on customers for each row execute function party_named('customer');
--> statement-breakpoint
create function bin_named() returns trigger language plpgsql as $$ begin
  if tg_op <> 'INSERT' then delete from names where kind = 'bin' and ref = old.id; end if;
  if tg_op <> 'DELETE' and new.kind = 'bin' then insert into names (kind, ref, code, name, unit, retired) values ('bin', new.id, new.code, new.name, null, new.retired); end if;
  return null;
end $$;
--> statement-breakpoint
create trigger bin_named after insert or update of code, name, retired or delete on places for each row execute function bin_named();
--> statement-breakpoint
insert into names (kind, ref, code, name, unit, retired) select 'item', id, code, trim(name || ' ' || name2), null, status = 'retired' from items
  union all select 'supplier', id, code, name, null, retired from suppliers union all select 'customer', id, code, name, null, retired from customers
  union all select 'bin', id, code, name, null, retired from places where kind = 'bin';
--> statement-breakpoint
create index sales_orders_number on sales_orders (lower(number) text_pattern_ops);
--> statement-breakpoint
create index purchase_orders_number on purchase_orders (lower(number) text_pattern_ops);
--> statement-breakpoint
create index lots_number on lots (lower(number) text_pattern_ops);
--> statement-breakpoint
create index sales_lines_item on sales_lines (item_id);
--> statement-breakpoint
create index purchase_lines_item on purchase_lines (item_id);
--> statement-breakpoint
create index builds_item on builds (item_id);
--> statement-breakpoint
create index bom_lines_item on bom_lines (item_id);
