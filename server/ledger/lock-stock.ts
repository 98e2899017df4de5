import { sql } from 'drizzle-orm'
import { emptyPool, type CostMethod, type PoolState } from '~~/core/costing'
import type { Balance } from '~~/core/stock'
import { ratio } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import type { HeldLayer } from '~~/shared/stock/requests'
import { standardUnit } from '../services/stock/standard-cost'

export type Status = Balance['status']

/** One end of a move: a bin or the way between sites with a status, or a place outside. */
export interface End {
  readonly placeId: number
  readonly status: Status | null
}

/**
 * What a posting touches: an item's lot and piece at a place; `line` is the transfer line whose goods are on the way.
 */
export interface Touched {
  readonly itemId: number
  readonly lotId: number | null
  readonly pieceId: number | null
  readonly line: number
  readonly end: End
}

export interface LockedPlace {
  readonly id: number
  readonly kind: string
  readonly site: number | null
}
export interface LockedBalance {
  readonly id: number
  readonly balance: Balance
}
export interface LockedStock {
  readonly places: ReadonlyMap<number, LockedPlace>
  readonly balances: readonly LockedBalance[]
  readonly pools: ReadonlyMap<string, { readonly state: PoolState; readonly lastOn: string | null }>
  readonly closedThrough: string | null
}

/** A pool as its row keeps it, with the method of its item and what that takes one stock unit to cost. */
interface HeldPool {
  readonly item: number
  readonly site: number
  readonly line: number
  readonly quantity: string
  readonly value: string
  readonly n: string | null
  readonly d: string | null
  readonly layers: HeldLayer[]
  readonly lastOn: string | null
  readonly method: CostMethod
  readonly standard: string | null
}

interface Row {
  readonly holdings: readonly HeldPool[]
  readonly balances: readonly {
    id: number
    item: number
    place: number
    lot: number | null
    piece: number | null
    status: Status
    onHand: string
    allocated: string
  }[]
  readonly places: readonly LockedPlace[]
  readonly closedThrough: string | null
}

/** Where cost is kept together: an item at a site, or a transfer line's goods on the way. */
export const poolKey = (item: number, site: number | null, line: number): string =>
  site === null || site === 0 ? `${item}/0/${line}` : `${item}/${site}/0`
export const poolOf = (key: string): { readonly item: number; readonly site: number; readonly line: number } => {
  const [item, site, line] = key.split('/').map(Number)
  return { item: item!, site: site!, line: line! }
}

/**
 * Locks what a posting touches in one round trip. `exclusive` keeps all other postings out, while cost is worked out
 * again; so does a posting for a day before that of a later move, since it works cost out again too.
 */
export async function lockStock(
  tx: Tx,
  touched: readonly Touched[],
  { exclusive, on }: { readonly exclusive: boolean; readonly on: string },
): Promise<LockedStock> {
  const ends = touched.map(({ itemId, lotId, pieceId, line, end }) => ({
    i: itemId,
    p: end.placeId,
    l: lotId,
    c: pieceId,
    s: end.status ?? 'available',
    t: line,
  }))
  const unique = [...new Map(ends.map((end) => [JSON.stringify(end), end])).values()]
  const [found] = await rows<{ locked: Row }>(
    tx,
    sql`select lock_stock(${JSON.stringify(unique)}::jsonb, ${exclusive}, ${on}::date) as locked`,
  )
  const { holdings, balances, places, closedThrough } = found!.locked
  return {
    closedThrough,
    places: new Map(places.map((place) => [place.id, place])),
    balances: balances.map((b) => ({
      id: b.id,
      balance: {
        item: String(b.item),
        bin: String(b.place),
        lot: b.lot === null ? null : String(b.lot),
        piece: b.piece === null ? null : String(b.piece),
        status: b.status,
        onHand: ratio(b.onHand),
        allocated: ratio(b.allocated),
      },
    })),
    pools: new Map(
      holdings.map((held) => [poolKey(held.item, held.site, held.line), { lastOn: held.lastOn, state: stateOf(held) }]),
    ),
  }
}

/** Goods on the way are carried at what they left with, whatever the method of their item. */
export const methodAt = (site: number, method: CostMethod): CostMethod => (site === 0 ? 'moving average' : method)

function stateOf({ site, method, standard, quantity, value, n, d, layers }: HeldPool): PoolState {
  const begun = emptyPool(methodAt(site, method), standardUnit(standard))
  return {
    ...begun,
    quantity: ratio(quantity),
    value: BigInt(value),
    unit: n === null ? begun.unit : ratio(n).div(ratio(d!)),
    layers: layers.map((layer) => ({ ...layer, quantity: ratio(layer.quantity), value: BigInt(layer.value) })),
  }
}

/** The pools of an item as they are kept, by their keys; nothing is locked. */
export async function loadPools(reader: Reader, itemId: number): Promise<ReadonlyMap<string, PoolState>> {
  const held = await rows<HeldPool>(
    reader,
    sql`
      select
        h.item_id as item, h.site_id as site, h.line_id as line, h.quantity::text, h.value::text,
        h.unit_numerator::text as n, h.unit_denominator::text as d, h.layers, h.last_on as "lastOn",
        i.costing as method, i.standard_cost::text as standard
      from holdings h
      join items i on i.id = h.item_id
      where h.item_id = ${itemId}`,
  )
  return new Map(held.map((row) => [poolKey(row.item, row.site, row.line), stateOf(row)]))
}
