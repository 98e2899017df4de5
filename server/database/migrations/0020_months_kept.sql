-- Month ends are kept whether the books are closed or not; what is entered for an earlier day has those from it on worked out again.
create or replace function record_posting(act jsonb, lines jsonb, lying jsonb, held jsonb) returns bigint[] language plpgsql as $$
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
  if ids is not null then delete from month_ends where month >= (act->>'effective_on')::date; end if;
  return posting || ids;
end $$;
