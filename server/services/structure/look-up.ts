import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'

/**
 * Items by what a list calls them: their code, a barcode or another code, or a supplier's; letter case does not matter.
 * Null where nothing, or more than one, fits.
 */
export async function lookUpItems(
  reader: Reader,
  words: readonly string[],
): Promise<{ word: string; id: number; code: string; name: string }[]> {
  return rows(
    reader,
    sql`
      with asked as (
        select distinct lower(trim(w)) as word from unnest(${sql.param(words)}::text[]) w where trim(w) <> ''
      ),
      hits as (
        select a.word, i.id, 0 as by
        from asked a
        join items i on lower(i.code) = a.word
        union
        select a.word, c.item_id, 1
        from asked a
        join item_codes c on lower(c.code) = a.word
        union
        select a.word, t.item_id, 2
        from asked a
        join supplier_terms t on lower(t.supplier_code) = a.word
        union
        select a.word, i.id, 3
        from asked a
        join items i on lower(i.name) = a.word
      ),
      best as (
        select word, min(by) as by from hits group by word
      )
      select h.word, min(i.id) as id, min(i.code) as code, min(i.name) as name
      from hits h
      join best b on b.word = h.word and b.by = h.by
      join items i on i.id = h.id
      group by h.word
      having count(distinct i.id) = 1`,
  )
}
