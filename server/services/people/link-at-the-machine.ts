import { eq, sql } from 'drizzle-orm'
import { db, pool } from '~~/server/database/client'
import { users } from '~~/server/database/schema'
import { noteEvent } from './noted'
import { linkAddress, makeLink } from './password-links'

/**
 * The path of a link to a new password, for whoever sits at the machine itself; null where nobody has the address. Ends
 * its connections to the database.
 */
export async function linkForOwner(email: string): Promise<string | null> {
  try {
    return await db.transaction(async (tx) => {
      const [person] = await tx
        .select()
        .from(users)
        .where(eq(sql`lower(${users.email})`, email.toLowerCase()))
      if (!person?.active) {
        return null
      }
      const { token } = await makeLink(tx, person.id, 'new password')
      await noteEvent(tx, {
        byId: null,
        personId: person.id,
        label: person.email,
        address: 'the machine itself',
        after: { event: 'link to a new password' },
      })
      return linkAddress('', token)
    })
  } finally {
    await pool.end()
  }
}
