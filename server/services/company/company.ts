import { eq, sql } from 'drizzle-orm'
import { db } from '~~/server/database/client'
import { company, users } from '~~/server/database/schema'
import type { Person, Role } from '~~/shared/company/people'
import type { Company } from '../../../shared/company/answers'

export async function loadCompany(): Promise<Company | null> {
  const [row] = await db.select().from(company)
  return row ?? null
}

/** The company's day: the demo's fixed one, else the real one. */
export async function today(): Promise<string> {
  return (await loadCompany())?.fixedDay ?? localDay(new Date())
}

/** The date on the wall where the server stands. */
export const localDay = (now: Date): string =>
  [now.getFullYear(), now.getMonth() + 1, now.getDate()].map((part) => String(part).padStart(2, '0')).join('-')

export async function loadPerson(id: number): Promise<Person | null> {
  const [row] = await db.select().from(users).where(eq(users.id, id))
  return row?.active ? { id: row.id, name: row.name, email: row.email, role: row.role as Role } : null
}

export async function findByEmail(email: string): Promise<(Person & { passwordHash: string }) | null> {
  const [row] = await db
    .select()
    .from(users)
    .where(eq(sql`lower(${users.email})`, email.toLowerCase()))
  return row?.active
    ? { id: row.id, name: row.name, email: row.email, role: row.role as Role, passwordHash: row.passwordHash }
    : null
}
