import ical, { ICalEventTransparency } from 'ical-generator'
import { eq, sql } from 'drizzle-orm'
import { db, rows, type Tx } from '~~/server/database/client'
import { users } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import { loadCompany } from '../company/company'
import { noteEvent } from '../people/noted'
import type { Session } from '../people/sessions'
import { digestOf, makeToken } from '../people/tokens'

/** One thing that is due: all day, with the page that shows it. */
interface Due {
  readonly id: string
  readonly day: string
  readonly title: string
  readonly path: string
}

/** A private address for somebody's calendar program; one that they had before opens nothing any more. */
export async function makeFeed(tx: Tx, { id, email }: Session, address: string): Promise<{ token: string }> {
  const { token, digest } = makeToken()
  await tx.update(users).set({ calendarDigest: digest }).where(eq(users.id, id))
  await noteEvent(tx, { byId: id, personId: id, label: email, address, after: { event: 'calendar address made' } })
  return { token }
}

export async function endFeed(tx: Tx, { id, email }: Session, address: string): Promise<void> {
  await tx.update(users).set({ calendarDigest: null }).where(eq(users.id, id))
  await noteEvent(tx, { byId: id, personId: id, label: email, address, after: { event: 'calendar address ended' } })
}

/**
 * What is due, for the calendar program that has a private address: orders, receipts and builds that are open.
 * `origin`: where the pages are. Errors: `not-found`.
 *
 * Source: iCalendar, RFC 5545, by the library ical-generator.
 */
export async function calendarOf(token: string, origin: string): Promise<string> {
  const [person] = await db
    .select({ active: users.active })
    .from(users)
    .where(eq(users.calendarDigest, digestOf(token)))
  if (!person?.active) {
    throw new Refusal('not-found', 'There is no calendar at this address. Make a new one under “Your sign-in”.')
  }
  const company = await loadCompany()
  const calendar = ical({ name: `${company?.name ?? 'Tsumiki'}: due`, prodId: '//Tsumiki//Due//EN' })
  for (const { id, day, title, path } of await listDue()) {
    calendar.createEvent({
      id: `${id}@tsumiki`,
      start: new Date(`${day}T00:00:00Z`),
      timezone: 'UTC',
      allDay: true,
      summary: title,
      url: `${origin}${path}`,
      transparency: ICalEventTransparency.TRANSPARENT,
    })
  }
  return calendar.toString()
}

const listDue = (): Promise<Due[]> =>
  rows<Due>(
    db,
    sql`
      select
        'sales-' || o.id as id, o.due_on as day, 'Ship ' || o.number || ' to ' || c.name as title,
        '/demand/orders/' || o.id as path
      from sales_orders o
      join customers c on c.id = o.customer_id
      where o.status = 'open'
      union all
      select
        'purchase-' || o.id || '-' || l.due_on, l.due_on,
        'Receive ' || o.number || ' from ' || s.name || ': ' || string_agg(i.code, ', ' order by l.line),
        '/purchasing/' || o.id
      from purchase_lines l
      join purchase_orders o on o.id = l.order_id
      join suppliers s on s.id = o.supplier_id
      join items i on i.id = l.item_id
      where o.status = 'open' and l.received < l.quantity and not l.closed_short
      group by o.id, s.name, l.due_on
      union all
      select
        'build-' || b.id, b.due_on, 'Finish ' || b.number || ': ' || trim_scale(b.quantity - b.made) || ' ' || i.code,
        '/workshop/' || b.id
      from builds b
      join items i on i.id = b.item_id
      where b.status in ('draft', 'ready', 'started')
      order by day, id`,
  )
