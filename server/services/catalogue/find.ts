import { sql, type SQL } from 'drizzle-orm'
import { distance } from 'fastest-levenshtein'
import { readScan } from '~~/core/codes'
import { db, rows } from '~~/server/database/client'
import { anyOf, anywhere, beginningWith } from '~~/server/database/sql'
import type { Found } from '../../../shared/catalogue/answers'

const ENOUGH = 20

/**
 * Anything with a name, best match first; a few letters are enough, and typing errors are forgiven. Each step is asked
 * only while there is room.
 */
export async function find(text: string): Promise<Found[]> {
  const asked = text.trim()
  if (asked === '') {
    return []
  }
  const found = new Map<string, Found>()
  const add = (list: readonly Found[]): void => {
    for (const entry of list) {
      const key = `${entry.kind} ${entry.id} ${entry.kind === 'item' ? '' : entry.code}`
      if (!found.has(key) && found.size < ENOUGH) {
        found.set(key, entry)
      }
    }
  }
  add(await byScan(asked))
  add(await documents(asked))
  add(await byText(asked))
  if (found.size < 8 && asked.length >= 3) {
    add(await byLikeness(asked))
  }
  return [...found.values()]
}

/** What a scanned or typed code names exactly: the item and, for a barcode, the unit. */
export function byScan(text: string): Promise<Found[]> {
  const scan = readScan(text)
  const forms = [
    ...new Set([
      text,
      scan.code,
      ...(scan.gtin14
        ? [14, 13, 12, 8]
            .filter((length) => /^0*$/.test(scan.gtin14!.slice(0, -length)))
            .map((length) => scan.gtin14!.slice(-length))
        : []),
    ]),
  ].map((form) => form.toLowerCase())
  return named(sql`${anyOf(sql`lower(n.code)`, forms)}`, sql`(n.kind = 'item code') desc`)
}

async function byText(text: string): Promise<Found[]> {
  const starts = await named(sql`lower(n.code) like ${beginningWith(text.toLowerCase())}`, sql`lower(n.code)`)
  return starts.length >= ENOUGH
    ? starts
    : [...starts, ...(await named(sql`n.code || ' ' || n.name ilike ${anywhere(text)}`, sql`lower(n.code)`))]
}

/**
 * Each word may be misspelt: it is looked up among the words that names have, and what has one near each of them is
 * found, nearest first. Where nothing has all of them, one may be missing.
 */
async function byLikeness(text: string): Promise<Found[]> {
  const words = text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word.length >= 2)
    .slice(0, 6)
  if (words.length === 0) {
    return []
  }
  const near = await Promise.all(words.map(nearWords))
  const all = await withWords(near.filter((list) => list.length > 0))
  const some =
    all.length > 0 || words.length < 2
      ? []
      : (
          await Promise.all(
            near.map((_, left) => withWords(near.filter((list, index) => index !== left && list.length > 0))),
          )
        ).flat()
  const away = (text: string): number => words.reduce((sum, word) => sum + Math.min(1, closestWord(word, text)), 0)
  return [...all, ...some]
    .map(({ named, ...thing }) => ({ thing, away: away(named) }))
    .sort((a, b) => a.away - b.away)
    .filter((entry) => entry.away < words.length * 0.45)
    .map((entry) => entry.thing)
}

/** Words of names that a typed word may mean: it begins so, or few letters differ. */
async function nearWords(word: string): Promise<string[]> {
  const found = await db.transaction(async (tx) => {
    await tx.execute(sql`set local pg_trgm.similarity_threshold = 0.25`)
    return rows<{ word: string }>(
      tx,
      sql`
        (select word from words where word like ${beginningWith(word)} order by length(word) limit 10)
        union (select word from words where word % ${word} order by similarity(word, ${word}) desc limit 20)`,
    )
  })
  let allowed
  if (word.length <= 4) {
    allowed = 1
  } else if (word.length <= 7) {
    allowed = 2
  } else {
    allowed = 3
  }
  return found
    .map((row) => row.word)
    .filter((candidate) => candidate.startsWith(word) || distance(word, candidate) <= allowed)
}

const withWords = (near: readonly (readonly string[])[]): Promise<(Found & { named: string })[]> =>
  near.length === 0
    ? Promise.resolve([])
    : rows<Found & { named: string }>(
        db,
        sql`
          select ${FIELDS}, n.code || ' ' || n.name as named
          from names n
          left join items i on i.id = n.ref and n.kind = 'item code'
          where ${sql.join(
            near.map((list) => sql`n.words && ${sql.param(list)}::text[]`),
            sql` and `,
          )}
          order by n.retired
          limit 200`,
      )

/** The least share of a word's letters that must change to make it a word of a text, or the beginning of one. */
function closestWord(word: string, text: string): number {
  return Math.min(
    ...text
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .filter(Boolean)
      .map(
        (candidate) =>
          Math.min(distance(word, candidate), distance(word, candidate.slice(0, word.length)) + 0.5) /
          Math.max(word.length, 3),
      ),
  )
}

const FIELDS = sql`
  case n.kind when 'item code' then 'item' else n.kind end as kind, n.ref as id,
  coalesce(i.code, n.code) as code,
  coalesce(i.name, n.name) || case when n.retired then ' (retired)' else '' end as name,
  case when n.kind = 'item code' then n.code end as by, n.unit`

const named = (where: SQL, order: SQL): Promise<Found[]> =>
  rows<Found>(
    db,
    sql`
      select ${FIELDS}
      from names n
      left join items i on i.id = n.ref and n.kind = 'item code'
      where ${where}
      order by n.retired, case n.kind when 'item' then 0 when 'item code' then 1 else 2 end, ${order}
      limit ${ENOUGH}`,
  )

/** Orders, jobs and lots by their number, orders by whose they are too. */
async function documents(text: string): Promise<Found[]> {
  const starts = beginningWith(text.toLowerCase())
  const holds = anywhere(text)
  return rows<Found>(
    db,
    sql`
      (
        select 'sales order' as kind, o.id, o.number as code, c.name
        from sales_orders o
        join customers c on c.id = o.customer_id
        where lower(o.number) like ${starts} or c.name ilike ${holds}
        order by o.status = 'open' desc, o.number
        limit 6
      )
      union all (
        select 'purchase order', o.id, o.number, s.name
        from purchase_orders o
        join suppliers s on s.id = o.supplier_id
        where lower(o.number) like ${starts} or s.name ilike ${holds}
        order by o.status = 'open' desc, o.number
        limit 6
      )
      union all (
        select 'build', b.id, b.number, i.name
        from builds b
        join items i on i.id = b.item_id
        where lower(b.number) like ${starts}
        order by b.number
        limit 6
      )
      union all (
        select 'break-down', b.id, b.number, i.name
        from break_downs b
        join items i on i.id = b.item_id
        where lower(b.number) like ${starts}
        order by b.number
        limit 6
      )
      union all (
        select 'lot', l.id, l.number, i.name
        from lots l
        join items i on i.id = l.item_id
        where lower(l.number) like ${starts}
        order by l.number
        limit 6
      )
      union all (
        select 'piece', c.id, c.label, i.name
        from pieces c
        join items i on i.id = c.item_id
        where lower(c.label) like ${starts}
        order by c.label
        limit 6
      )
      union all (
        select 'transfer', t.id, t.number, f.name || ' → ' || g.name
        from transfers t
        join sites f on f.id = t.from_site_id
        join sites g on g.id = t.to_site_id
        where lower(t.number) like ${starts}
        order by t.number
        limit 6
      )
      union all (
        select 'stock count', c.id, c.number, c.name
        from stock_counts c
        where lower(c.number) like ${starts}
        order by c.number
        limit 6
      )`,
  )
}
