import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { Definition } from '~~/shared/catalogue/definitions'
import type { Edit } from './store'
import type { ReportFault } from './item-check'

interface Known {
  readonly groups: Set<number>
  readonly suppliers: Set<number>
  readonly customers: Set<number>
  readonly lists: Set<number>
  readonly sites: Set<number>
  readonly items: Set<number>
  readonly pictures: Set<number>
}

export async function loadKnown(tx: Tx, edits: readonly Edit<'items'>[]): Promise<Known> {
  const ids = async (table: string, asked: readonly number[]): Promise<Set<number>> =>
    new Set(
      asked.length === 0
        ? []
        : (
            await rows<{ id: number }>(
              tx,
              sql`select id from ${sql.identifier(table)} where ${anyOf(sql`id`, [...new Set(asked)])}`,
            )
          ).map((row) => row.id),
    )
  const every = <T>(pick: (item: Definition<'items'>) => readonly (T | null)[]): T[] =>
    edits.flatMap((edit) => pick(edit.definition)).filter((value) => value !== null)
  return {
    groups: await ids(
      'item_groups',
      every((i) => [i.groupId]),
    ),
    suppliers: await ids(
      'suppliers',
      every((i) => i.terms.map((t) => t.supplierId)),
    ),
    customers: await ids(
      'customers',
      every((i) => i.prices.map((p) => p.customerId)),
    ),
    lists: await ids(
      'price_lists',
      every((i) => i.prices.map((p) => p.priceListId)),
    ),
    sites: await ids(
      'sites',
      every((i) => [i.fromSiteId, ...i.marks.map((m) => m.siteId)]),
    ),
    items: await ids(
      'items',
      every((i) => i.substitutes.map((s) => s.itemId)),
    ),
    pictures: await ids(
      'pictures',
      every((i) => [i.pictureId]),
    ),
  }
}

export function checkReferences(item: Definition<'items'>, id: number | null, known: Known, report: ReportFault): void {
  const missing = (there: Set<number>, value: number | null, field: string, what: string): void => {
    if (value !== null && !there.has(value)) {
      report(field, `There is no such ${what}.`)
    }
  }
  missing(known.groups, item.groupId, 'groupId', 'group')
  missing(known.sites, item.fromSiteId, 'fromSiteId', 'site')
  missing(known.pictures, item.pictureId, 'pictureId', 'picture')
  item.terms.forEach((t, index) => missing(known.suppliers, t.supplierId, `terms.${index}.supplierId`, 'supplier'))
  item.prices.forEach((p, index) => {
    missing(known.lists, p.priceListId, `prices.${index}.priceListId`, 'price list')
    missing(known.customers, p.customerId, `prices.${index}.customerId`, 'customer')
  })
  item.marks.forEach((m, index) => missing(known.sites, m.siteId, `marks.${index}.siteId`, 'site'))
  item.substitutes.forEach((s, index) => {
    missing(known.items, s.itemId, `substitutes.${index}.itemId`, 'item')
    if (s.itemId === id) {
      report(`substitutes.${index}.itemId`, 'An item does not stand in for itself.')
    }
  })
}
