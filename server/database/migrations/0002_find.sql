create extension if not exists pg_trgm;
--> statement-breakpoint
create index items_find on items using gin ((code || ' ' || name) gin_trgm_ops);
