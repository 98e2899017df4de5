import { asc, eq } from 'drizzle-orm'
import { db, type Tx } from '~~/server/database/client'
import { customers, itemGroups, places, sites, suppliers } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { noteChange } from '../company/command'
import { loadUnits } from './frames'

/** What fields choose from: units, groups, suppliers, customers, bins. */
export async function loadReferences() {
  const [units, groups, supplierRows, customerRows, bins] = await Promise.all([
    loadUnits(db), db.select().from(itemGroups).orderBy(asc(itemGroups.name)), db.select().from(suppliers).orderBy(asc(suppliers.name)), db.select().from(customers).orderBy(asc(customers.name)),
    db.select().from(places).where(eq(places.kind, 'bin')).orderBy(asc(places.pickOrder), asc(places.code)),
  ])
  return { units, groups, suppliers: supplierRows, customers: customerRows, bins }
}

interface Party { readonly code: string, readonly name: string, readonly email: string, readonly address: string }

export async function createGroup(tx: Tx, actor: Actor, edit: { code: string, name: string }): Promise<{ id: number }> {
  const made = await tx.insert(itemGroups).values(edit).onConflictDoNothing().returning({ id: itemGroups.id })
  return noted(tx, actor, 'item group', made[0], edit)
}

export async function createSupplier(tx: Tx, actor: Actor, edit: Party & { calendarId?: number | null }): Promise<{ id: number }> {
  const made = await tx.insert(suppliers).values(edit).onConflictDoNothing().returning({ id: suppliers.id })
  return noted(tx, actor, 'supplier', made[0], edit)
}

export async function createCustomer(tx: Tx, actor: Actor, { code, name, address }: Party): Promise<{ id: number }> {
  const made = await tx.insert(customers).values({ code, name, address }).onConflictDoNothing().returning({ id: customers.id })
  return noted(tx, actor, 'customer', made[0], { code, name, address })
}

export async function createBin(tx: Tx, actor: Actor, edit: { code: string, name: string, pickOrder: number, closedToPicking: boolean, closedToReceiving: boolean }): Promise<{ id: number }> {
  const [site] = await tx.select().from(sites).orderBy(asc(sites.id)).limit(1)
  const made = await tx.insert(places).values({ ...edit, kind: 'bin', siteId: site!.id }).onConflictDoNothing().returning({ id: places.id })
  return noted(tx, actor, 'bin', made[0], edit)
}

async function noted<T extends { code: string }>(tx: Tx, actor: Actor, entity: string, made: { id: number } | undefined, edit: T): Promise<{ id: number }> {
  if (!made) throw new Refusal('taken', `The code ${edit.code} is taken.`, { code: `The code ${edit.code} is taken. Choose another.` })
  await noteChange(tx, actor, entity, made.id, null, edit)
  return made
}
