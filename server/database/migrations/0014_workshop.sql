CREATE TABLE "build_lines" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "build_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"build_id" integer NOT NULL,
	"position" integer NOT NULL,
	"item_id" integer NOT NULL,
	"for_item_id" integer,
	"need" numeric NOT NULL,
	"used" numeric DEFAULT '0' NOT NULL,
	"covered" numeric DEFAULT '0' NOT NULL,
	"unit" text NOT NULL,
	"planned" numeric DEFAULT '0' NOT NULL,
	"by_hand" boolean DEFAULT false NOT NULL,
	CONSTRAINT "build_lines_buildId_position_unique" UNIQUE("build_id","position"),
	CONSTRAINT "build_lines_sound" CHECK ("build_lines"."need" >= 0 and "build_lines"."used" >= 0)
);
--> statement-breakpoint
CREATE TABLE "build_minutes" (
	"posting_id" integer PRIMARY KEY NOT NULL,
	"build_id" integer NOT NULL,
	"minutes" numeric NOT NULL
);
--> statement-breakpoint
CREATE TABLE "build_scraps" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "build_scraps_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"posting_id" integer NOT NULL,
	"line_id" integer NOT NULL,
	"quantity" numeric NOT NULL,
	"reason" text NOT NULL,
	CONSTRAINT "build_scraps_quantity" CHECK ("build_scraps"."quantity" > 0)
);
--> statement-breakpoint
CREATE TABLE "build_uses" (
	"posting_id" integer NOT NULL,
	"line_id" integer NOT NULL,
	"covers" numeric NOT NULL,
	"ahead" numeric NOT NULL,
	CONSTRAINT "build_uses_posting_id_line_id_pk" PRIMARY KEY("posting_id","line_id")
);
--> statement-breakpoint
CREATE TABLE "cutting_jobs" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "cutting_jobs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"number" text NOT NULL,
	"item_id" integer NOT NULL,
	"site_id" integer NOT NULL,
	"due_on" date NOT NULL,
	"kerf" numeric DEFAULT '0' NOT NULL,
	"keep" numeric DEFAULT '0' NOT NULL,
	"one_lot" boolean DEFAULT false NOT NULL,
	"wanted" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"plan" jsonb,
	"status" text DEFAULT 'draft' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	CONSTRAINT "cutting_jobs_number_unique" UNIQUE("number"),
	CONSTRAINT "cutting_jobs_sound" CHECK ("cutting_jobs"."kerf" >= 0 and "cutting_jobs"."keep" >= 0)
);
--> statement-breakpoint
ALTER TABLE "allocations" DROP CONSTRAINT "allocations_key";--> statement-breakpoint
ALTER TABLE "builds" DROP CONSTRAINT "builds_quantity";--> statement-breakpoint
ALTER TABLE "allocations" ALTER COLUMN "sales_line_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "builds" ALTER COLUMN "status" SET DEFAULT 'draft';--> statement-breakpoint
ALTER TABLE "recipes" ADD COLUMN "loss_written_off" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "allocations" ADD COLUMN "build_line_id" integer;--> statement-breakpoint
ALTER TABLE "break_downs" ADD COLUMN "site_id" integer;--> statement-breakpoint
update break_downs set site_id = (select min(id) from sites where not retired);--> statement-breakpoint
ALTER TABLE "break_downs" ALTER COLUMN "site_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "break_downs" ADD COLUMN "arrival_id" integer;--> statement-breakpoint
ALTER TABLE "break_downs" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "site_id" integer;--> statement-breakpoint
update builds set site_id = (select min(id) from sites where not retired);--> statement-breakpoint
ALTER TABLE "builds" ALTER COLUMN "site_id" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "made" numeric DEFAULT '0' NOT NULL;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "started_on" date;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "done_on" date;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "sales_line_id" integer;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "for_build_id" integer;--> statement-breakpoint
ALTER TABLE "builds" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "build_lines" ADD CONSTRAINT "build_lines_build_id_builds_id_fk" FOREIGN KEY ("build_id") REFERENCES "public"."builds"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_lines" ADD CONSTRAINT "build_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_lines" ADD CONSTRAINT "build_lines_for_item_id_items_id_fk" FOREIGN KEY ("for_item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_lines" ADD CONSTRAINT "build_lines_unit_units_code_fk" FOREIGN KEY ("unit") REFERENCES "public"."units"("code") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_minutes" ADD CONSTRAINT "build_minutes_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_minutes" ADD CONSTRAINT "build_minutes_build_id_builds_id_fk" FOREIGN KEY ("build_id") REFERENCES "public"."builds"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_scraps" ADD CONSTRAINT "build_scraps_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_scraps" ADD CONSTRAINT "build_scraps_line_id_build_lines_id_fk" FOREIGN KEY ("line_id") REFERENCES "public"."build_lines"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_uses" ADD CONSTRAINT "build_uses_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "build_uses" ADD CONSTRAINT "build_uses_line_id_build_lines_id_fk" FOREIGN KEY ("line_id") REFERENCES "public"."build_lines"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cutting_jobs" ADD CONSTRAINT "cutting_jobs_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cutting_jobs" ADD CONSTRAINT "cutting_jobs_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "build_lines_item" ON "build_lines" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "build_minutes_build" ON "build_minutes" USING btree ("build_id");--> statement-breakpoint
CREATE INDEX "build_scraps_posting" ON "build_scraps" USING btree ("posting_id");--> statement-breakpoint
CREATE INDEX "build_uses_line" ON "build_uses" USING btree ("line_id");--> statement-breakpoint
CREATE INDEX "cutting_jobs_item" ON "cutting_jobs" USING btree ("item_id");--> statement-breakpoint
ALTER TABLE "break_downs" ADD CONSTRAINT "break_downs_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_downs" ADD CONSTRAINT "break_downs_arrival_id_postings_id_fk" FOREIGN KEY ("arrival_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "builds" ADD CONSTRAINT "builds_site_id_sites_id_fk" FOREIGN KEY ("site_id") REFERENCES "public"."sites"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "allocations_build" ON "allocations" USING btree ("build_line_id") WHERE "allocations"."build_line_id" is not null;--> statement-breakpoint
CREATE INDEX "break_downs_status" ON "break_downs" USING btree ("status");--> statement-breakpoint
CREATE INDEX "builds_status" ON "builds" USING btree ("status");--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_key" UNIQUE NULLS NOT DISTINCT("sales_line_id","build_line_id","place_id","lot_id","piece_id");--> statement-breakpoint
ALTER TABLE "allocations" ADD CONSTRAINT "allocations_for_one" CHECK (("allocations"."sales_line_id" is null) <> ("allocations"."build_line_id" is null));--> statement-breakpoint
ALTER TABLE "builds" ADD CONSTRAINT "builds_quantity" CHECK ("builds"."quantity" > 0 and "builds"."made" >= 0);--> statement-breakpoint
-- Builds of before: what was done has made all of its quantity, and its components are read from what it took.
update builds set status = 'draft' where status = 'planned';
--> statement-breakpoint
update builds b set made = b.quantity, done_on = (select max(o.effective_on) from postings o where o.document_kind = 'build' and o.document_id = b.id and o.reverses_id is null) where b.status = 'done';
--> statement-breakpoint
insert into build_lines (build_id, position, item_id, for_item_id, need, used, covered, unit, planned)
  select x.build_id, row_number() over (partition by x.build_id order by x.first), x.item_id, x.item_id, x.quantity, x.quantity, x.quantity, i.stock_unit, round(x.value / x.quantity, 9)
  from (select o.document_id as build_id, m.item_id, min(m.id) as first, sum(m.quantity) as quantity, sum(m.value)::numeric as value
    from builds b join postings o on o.document_kind = 'build' and o.document_id = b.id and o.reverses_id is null and not exists (select 1 from postings r where r.reverses_id = o.id) join moves m on m.posting_id = o.id join places t on t.id = m.to_place_id and t.kind = 'workshop'
    where b.status = 'done' group by 1, 2) x join items i on i.id = x.item_id;
--> statement-breakpoint
-- What a build has used and made, from its moves: what went to the workshop for a line less what came back, and the other way round for what it makes.
create function settle_build(build int) returns void language plpgsql as $$
begin
  update build_lines l set used = coalesce((select sum(case when t.kind = 'workshop' then m.quantity else -m.quantity end)
    from postings o join moves m on m.posting_id = o.id join places f on f.id = m.from_place_id join places t on t.id = m.to_place_id
    where o.document_kind = 'build' and o.document_id = build and (m.document_line_id = l.id or (m.document_line_id is null and m.item_id = l.item_id and m.item_id <> (select item_id from builds where id = build)))
      and ((t.kind = 'workshop' and m.basis <> 'back') or (f.kind = 'workshop' and m.basis = 'back'))), 0) where l.build_id = build;
  update build_lines l set covered = case when exists (select 1 from build_uses u where u.line_id = l.id) then coalesce((select sum(u.covers) from build_uses u where u.line_id = l.id and not exists (select 1 from postings r where r.reverses_id = u.posting_id)), 0) else least(l.need, l.used) end where l.build_id = build;
  update builds b set made = coalesce((select sum(case when f.kind = 'workshop' then m.quantity else -m.quantity end)
    from postings o join moves m on m.posting_id = o.id join places f on f.id = m.from_place_id join places t on t.id = m.to_place_id
    where o.document_kind = 'build' and o.document_id = build and m.item_id = b.item_id
      and ((f.kind = 'workshop' and m.basis <> 'back') or (t.kind = 'workshop' and m.basis = 'back'))), 0) where b.id = build;
end $$;
