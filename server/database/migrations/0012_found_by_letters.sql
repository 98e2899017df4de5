-- Letters anywhere in a code, a name, a lot number or a label are found without reading all of them, where the server has the means (it comes with PostgreSQL).
do $$ begin
  create extension if not exists pg_trgm;
  create index items_code_letters on items using gin (code gin_trgm_ops);
  create index items_name_letters on items using gin (name gin_trgm_ops);
  create index lots_number_letters on lots using gin (number gin_trgm_ops);
  create index pieces_label_letters on pieces using gin (label gin_trgm_ops);
exception when others then raise notice 'Searching goes without an index of letters: %', sqlerrm;
end $$;
