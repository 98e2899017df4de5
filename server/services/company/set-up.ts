import { sql } from 'drizzle-orm'
import { parts } from '~~/core/units/exact'
import { standardUnits } from '~~/core/units/graph'
import { rows, type Tx } from '~~/server/database/client'
import { calendars, company, itemGroups, places, sites, units, users } from '~~/server/database/schema'
import { sealPassword } from '~~/server/utils/password'
import { Refusal } from '~~/server/utils/refusal'
import type { Person } from '~~/shared/company/people'
import type { Role } from '~~/shared/company/rights'
import { EXTERNAL_PLACES } from '../../ledger/external-places'

/** Standard units and the outside places: what every company has from its first day. */
export async function layFoundations(tx: Tx): Promise<void> {
  await tx
    .insert(units)
    .values(
      [...standardUnits.values()].map((unit) => {
        const factor = unit.ratio ? parts(unit.ratio) : null
        return {
          code: unit.code,
          name: unit.name,
          plural: unit.plural,
          symbol: unit.symbol,
          dimension: unit.dimension,
          numerator: factor?.n.toString() ?? null,
          denominator: factor?.d.toString() ?? null,
          decimals: unit.decimals,
          rec20: unit.rec20,
        }
      }),
    )
    .onConflictDoNothing()
  await tx
    .insert(places)
    .values(EXTERNAL_PLACES.map((kind) => ({ code: `outside:${kind}`, name: EXTERNAL_PLACE_NAMES[kind], kind })))
    .onConflictDoNothing()
}

const EXTERNAL_PLACE_NAMES = {
  transit: 'On the way',
  supplier: 'Suppliers',
  customer: 'Customers',
  workshop: 'In the workshop',
  correction: 'Corrections',
  opening: 'Opening stock',
  returned: 'Returned to suppliers',
} as const

interface FirstOwner {
  readonly company: string
  readonly name: string
  readonly email: string
  readonly password: string
  readonly currency: string
  /** The zone of the browser in which the company is begun. */
  readonly timeZone?: string | null
}

/**
 * Begins a company: its first owner, a site with one bin, a Monday-to-Friday calendar, one item group. Only where there
 * is none.
 */
export async function beginCompany(tx: Tx, first: FirstOwner): Promise<Person> {
  await rows(tx, sql`lock table company in exclusive mode`)
  if ((await tx.select().from(company)).length > 0) {
    throw new Refusal('not-now', 'There is a company here already. Sign in.')
  }
  await tx.insert(company).values({
    name: first.company,
    currency: first.currency,
    timeZone: first.timeZone ?? null,
  })
  await layFoundations(tx)
  const [calendar] = await tx.insert(calendars).values({ name: 'Working week' }).returning()
  await tx.update(company).set({ calendarId: calendar!.id })
  const [site] = await tx
    .insert(sites)
    .values({ code: 'WORKSHOP', name: 'Workshop', calendarId: calendar!.id })
    .returning()
  await tx.insert(places).values({ code: 'STORE', name: 'Store shelf', kind: 'bin', siteId: site!.id, pickOrder: 10 })
  await tx.insert(itemGroups).values({ code: 'GENERAL', name: 'General' })
  return addPerson(tx, { ...first, role: 'owner' })
}

export async function addPerson(
  tx: Tx,
  { name, email, password, role }: { name: string; email: string; password: string; role: Role },
): Promise<Person> {
  const made = await tx
    .insert(users)
    .values({ name, email: email.toLowerCase(), role, passwordHash: await sealPassword(password) })
    .onConflictDoNothing()
    .returning()
  if (!made[0]) {
    throw new Refusal('taken', `${email} has a sign-in already.`, { email: `${email} has a sign-in already.` })
  }
  return { id: made[0].id, name, email: made[0].email, role, rights: [] }
}
