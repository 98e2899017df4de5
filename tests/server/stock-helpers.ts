import { sql } from 'drizzle-orm'
import { beforeAll } from 'vitest'
import { typedQuantity } from '~~/core/units/quantity'
import { db, rows } from '~~/server/database/client'
import { createItem } from '~~/server/services/catalogue/items'
import { inTransaction } from '~~/server/database/transactions'
import { correct } from '~~/server/services/stock/correct'
import { listBalances } from '~~/server/services/stock/queries'
import { ItemEdit } from '~~/shared/catalogue/item'
import { StockQuery } from '~~/shared/stock/requests'
import { idOf, owner } from './database'

/** The bins and sites of the demo that the stockroom's tests use; read before the first of them. */
export const here = { shelf: 0, rack: 0, store: 0, workshop: 0, storeSite: 0 }
export function withPlaces(): void {
  beforeAll(async () => {
    ;[here.shelf, here.rack, here.workshop, here.storeSite] = await Promise.all([
      idOf('places', 'SHELF-A'),
      idOf('places', 'RACK'),
      idOf('sites', 'WORKSHOP'),
      idOf('sites', 'STORE'),
    ])
    const [bin] = await rows<{ id: number }>(
      db,
      sql`select id from places where site_id = ${here.storeSite} and not closed_to_receiving order by id limit 1`,
    )
    here.store = bin!.id
  })
}

export const make = async (code: string, more: object = {}): Promise<number> =>
  (
    await inTransaction(async (tx) =>
      createItem(
        tx,
        owner,
        ItemEdit.parse({
          code,
          name: `${code} to test with`,
          groupId: await idOf('item_groups', 'CLOTH'),
          stockUnit: 'piece',
          buyingUnit: 'piece',
          sellingUnit: 'piece',
          finestStep: '1',
          ...more,
        }),
      ),
    )
  ).id
export const open = async (itemId: number, quantity: string, unitCost: string, more: object = {}) =>
  inTransaction((tx) =>
    correct(tx, owner, {
      itemId,
      binId: here.shelf,
      lot: '',
      direction: 'more',
      quantity: typedQuantity(quantity),
      unit: 'piece',
      reason: 'opening stock',
      unitCost,
      expiresOn: null,
      ...more,
    }),
  )
/** What lies where of an item, in the order in which its bins are walked; pieces of a bin as they came. */
export async function balanceTexts(itemId: number): Promise<string[]> {
  const { rows } = await listBalances(StockQuery.parse({ item: itemId, size: 200, sort: 'place' }))
  const bins = [...new Set(rows.map((row) => row.binId))]
  return [...rows]
    .sort(
      (first, second) =>
        bins.indexOf(first.binId) - bins.indexOf(second.binId) || (first.pieceId ?? 0) - (second.pieceId ?? 0),
    )
    .map(
      (row) =>
        `${row.bin}${row.piece ? ` ${row.piece}` : ''}${row.lot ? ` (${row.lot})` : ''} ${row.onHand} ${row.status}`,
    )
}
