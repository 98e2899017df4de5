import { eq } from 'drizzle-orm'
import type { Tx } from '~~/server/database/client'
import {
  breakDowns,
  builds,
  cuttingJobs,
  forecasts,
  plans,
  purchaseOrders,
  salesOrders,
  stockCounts,
  transfers,
} from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { noteChange, requireVersion } from './history'

/** Every document that people open, change and close: it has a version, and who changed what is noted. */
const TABLES = {
  'break-down': breakDowns,
  build: builds,
  'cutting job': cuttingJobs,
  forecast: forecasts,
  plan: plans,
  'purchase order': purchaseOrders,
  'sales order': salesOrders,
  'stock count': stockCounts,
  transfer: transfers,
}

export type DocumentKind = keyof typeof TABLES
export type DocumentOf<K extends DocumentKind> = (typeof TABLES)[K]['$inferSelect']

interface Numbered {
  readonly number: string
  readonly status: string
}

/** Locks a document until the transaction ends. Errors: `not-found`. */
export async function lockDocument<K extends DocumentKind>(tx: Tx, kind: K, id: number): Promise<DocumentOf<K>> {
  const table = TABLES[kind]
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

/**
 * Writes what has changed, raises the version and notes who did it.
 *
 * `noted`: what else the history says, of before and after.
 */
export async function saveDocument<K extends DocumentKind>(
  tx: Tx,
  actor: Actor,
  kind: K,
  document: DocumentOf<K>,
  changed: Partial<DocumentOf<K>>,
  noted: { readonly before?: object; readonly after?: object } = {},
): Promise<{ version: number }> {
  const version = document.version + 1
  const table = TABLES[kind]
  await tx
    .update(table)
    .set({ ...changed, version })
    .where(eq(table.id, document.id))
  const before = Object.fromEntries(Object.keys(changed).map((field) => [field, document[field as keyof typeof document]]))
  await noteChange(
    tx,
    actor,
    kind,
    document.id,
    { ...before, ...noted.before, version: document.version },
    { ...changed, ...noted.after, version },
  )
  return { version }
}
