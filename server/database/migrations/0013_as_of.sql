DROP INDEX "moves_day";--> statement-breakpoint
-- What came into a place and what left it since a day, read from the index alone.
create index moves_into on moves (to_place_id, effective_on) include (item_id, lot_id, piece_id, to_status, quantity) where to_status is not null;
--> statement-breakpoint
create index moves_out_of on moves (from_place_id, effective_on) include (item_id, lot_id, piece_id, from_status, quantity) where from_status is not null;
