import { sql, type SQL } from 'drizzle-orm'
import { readScan } from '~~/core/codes'
import { db, rows } from '~~/server/database/client'
import { among } from './definitions/shape'

export interface Found {
  kind: 'item' | 'sales order' | 'purchase order' | 'build' | 'break-down' | 'lot' | 'bin' | 'supplier' | 'customer', id: number, code: string, name: string
  /** The code that matched, where it is not the item's own, and the unit that it stands for. */
  by?: string | null, unit?: string | null
}

const ENOUGH = 20

/** Anything with a name, best match first; a few letters are enough, and typing errors are forgiven. Each step is asked only while there is room. */
export async function find(text: string): Promise<Found[]> {
  const asked = text.trim()
  if (asked === '') return []
  const found = new Map<string, Found>()
  const add = (list: readonly Found[]): void => { for (const one of list) { const key = `${one.kind} ${one.id} ${one.kind === 'item' ? '' : one.code}`; if (!found.has(key) && found.size < ENOUGH) found.set(key, one) } }
  add(await byScan(asked))
  add(await documents(asked))
  add(await byText(asked))
  if (found.size < 8 && asked.length >= 3) add(await byLikeness(asked))
  return [...found.values()]
}

/** What a scanned or typed code names exactly: the item and, for a barcode, the unit. */
export function byScan(text: string): Promise<Found[]> {
  const scan = readScan(text)
  const forms = [...new Set([text, scan.code, ...scan.gtin14 ? [14, 13, 12, 8].filter(length => /^0*$/.test(scan.gtin14!.slice(0, -length))).map(length => scan.gtin14!.slice(-length)) : []])].map(form => form.toLowerCase())
  return named(sql`${among(sql`lower(n.code)`, forms)}`, sql`(n.kind = 'item code') desc`)
}

const escaped = (text: string): string => text.replace(/[\\%_]/g, character => `\\${character}`)

async function byText(text: string): Promise<Found[]> {
  const starts = await named(sql`lower(n.code) like ${`${escaped(text.toLowerCase())}%`}`, sql`lower(n.code)`)
  return starts.length >= ENOUGH ? starts : [...starts, ...await named(sql`n.code || ' ' || n.name ilike ${`%${escaped(text)}%`}`, sql`lower(n.code)`)]
}

/** Each word may be misspelt; a thing is as near as its words are on average. */
function byLikeness(text: string): Promise<Found[]> {
  const words = text.split(/\s+/).slice(0, 6)
  const near = sql`(${sql.join(words.map(word => sql`word_similarity(${word}, n.code || ' ' || n.name)`), sql` + `)}) / ${sql.raw(`${words.length}.0`)}`
  return db.transaction(async (tx) => {
    await tx.execute(sql`set local pg_trgm.word_similarity_threshold = 0.4`)
    const likely = sql.join(words.map(word => sql`${word} <% (n.code || ' ' || n.name)`), sql` or `)
    return rows<Found>(tx, sql`select ${FIELDS} from names n left join items i on i.id = n.ref and n.kind = 'item code' where (${likely}) and ${near} > 0.4 order by ${near} desc, n.retired, n.code limit ${ENOUGH}`)
  })
}

const FIELDS = sql`case n.kind when 'item code' then 'item' else n.kind end as kind, n.ref as id, coalesce(i.code, n.code) as code, coalesce(i.name, n.name) || case when n.retired then ' (retired)' else '' end as name,
  case when n.kind = 'item code' then n.code end as by, n.unit`
const named = (where: SQL, order: SQL): Promise<Found[]> => rows<Found>(db, sql`select ${FIELDS} from names n left join items i on i.id = n.ref and n.kind = 'item code' where ${where} order by n.retired, case n.kind when 'item' then 0 when 'item code' then 1 else 2 end, ${order} limit ${ENOUGH}`)

/** Orders, jobs and lots by their number, orders by whose they are too. */
async function documents(text: string): Promise<Found[]> {
  const starts = `${escaped(text.toLowerCase())}%`
  const holds = `%${escaped(text)}%`
  return rows<Found>(db, sql`
    (select 'sales order' as kind, o.id, o.number as code, c.name from sales_orders o join customers c on c.id = o.customer_id where lower(o.number) like ${starts} or c.name ilike ${holds} order by o.status = 'open' desc, o.number limit 6) union all
    (select 'purchase order', o.id, o.number, s.name from purchase_orders o join suppliers s on s.id = o.supplier_id where lower(o.number) like ${starts} or s.name ilike ${holds} order by o.status = 'open' desc, o.number limit 6) union all
    (select 'build', b.id, b.number, i.name from builds b join items i on i.id = b.item_id where lower(b.number) like ${starts} order by b.number limit 6) union all
    (select 'break-down', b.id, b.number, i.name from break_downs b join items i on i.id = b.item_id where lower(b.number) like ${starts} order by b.number limit 6) union all
    (select 'lot', l.item_id, l.number, i.name from lots l join items i on i.id = l.item_id where lower(l.number) like ${starts} order by l.number limit 6)`)
}
