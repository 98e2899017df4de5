import { eq } from 'drizzle-orm'
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core'
import type { Tx } from '~~/server/database/client'
import {
  blanketOrders,
  breakDowns,
  builds,
  company,
  cuttingJobs,
  forecasts,
  inspectionPlans,
  inspections,
  lots,
  pieces,
  plans,
  purchaseOrders,
  quotationRequests,
  salesOrders,
  stockCounts,
  transfers,
} from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { noteChange, requireVersion } from './history'

/** Whatever people open and change one at a time: it has a version, and who changed what is noted. */
const TABLES = {
  'blanket order': blanketOrders,
  'break-down': breakDowns,
  build: builds,
  company,
  'cutting job': cuttingJobs,
  forecast: forecasts,
  inspection: inspections,
  'inspection plan': inspectionPlans,
  lot: lots,
  piece: pieces,
  plan: plans,
  'purchase order': purchaseOrders,
  'quotation request': quotationRequests,
  'sales order': salesOrders,
  'stock count': stockCounts,
  transfer: transfers,
}

export type DocumentKind = keyof typeof TABLES
export type DocumentOf<K extends DocumentKind> = (typeof TABLES)[K]['$inferSelect']

/** What Drizzle can say of a table that is one of several: the caller's kind says which row comes of it. */
type DocumentTable = PgTable & { readonly id: PgColumn }
const tableOf = (kind: DocumentKind): DocumentTable => TABLES[kind]

interface Numbered {
  readonly number: string
  readonly status: string
}

/** Locks a document until the transaction ends. Errors: `not-found`. */
export async function lockDocument<K extends DocumentKind>(tx: Tx, kind: K, id: number): Promise<DocumentOf<K>> {
  const table = tableOf(kind)
  const [document] = await tx.select().from(table).where(eq(table.id, id)).for('update')
  if (!document) {
    throw new Refusal('not-found', `There is no such ${kind}.`)
  }
  return document as DocumentOf<K>
}

/**
 * Locks a document that its author saw at this version, in one of the statuses where these matter.
 *
 * Errors: `not-found`; `stale-version` with what has changed since; `not-now` where it is in another status.
 */
export async function lockAsSeen<K extends DocumentKind>(
  tx: Tx,
  kind: K,
  id: number,
  version: number,
  statuses?: readonly (DocumentOf<K> & Numbered)['status'][],
): Promise<DocumentOf<K>> {
  const document = await lockDocument(tx, kind, id)
  await requireVersion(tx, kind, id, version, document.version)
  if (statuses) {
    requireStatus(document as DocumentOf<K> & Numbered, statuses)
  }
  return document
}

/** Errors: `not-now` where a document is in none of the statuses. */
export function requireStatus({ number, status }: Numbered, statuses: readonly string[]): void {
  if (!statuses.includes(status)) {
    throw new Refusal('not-now', `${number} is ${NOT_YET[status] ?? `${status} already`}.`)
  }
}

/** How a status is said that comes before the one that an act needs. */
const NOT_YET: Readonly<Record<string, string>> = { draft: 'a draft still', planned: 'planned still' }

interface Change<K extends DocumentKind> {
  readonly set: Partial<DocumentOf<K>>
  /** What else the history says, of before and after. */
  readonly before?: object
  readonly after?: object
}

/** Writes what has changed, raises the version and notes who did it. */
export async function saveDocument<K extends DocumentKind>(
  tx: Tx,
  actor: Actor,
  kind: K,
  document: DocumentOf<K>,
  change: Change<K>,
): Promise<{ version: number }> {
  const version = document.version + 1
  await tx
    .update(tableOf(kind))
    .set({ ...change.set, version })
    .where(eq(tableOf(kind).id, document.id))
  const replaced = Object.keys(change.set).map((field) => [field, document[field as keyof typeof document]])
  await noteChange(
    tx,
    actor,
    { kind, id: document.id },
    { ...Object.fromEntries(replaced), ...change.before, version: document.version },
    { ...change.set, ...change.after, version },
  )
  return { version }
}
