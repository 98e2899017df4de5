import { sql } from 'drizzle-orm'
import { emptyPool, type CostMethod, type PoolState } from '~~/core/costing'
import type { Balance } from '~~/core/stock'
import { ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import type { HeldLayer } from '~~/shared/stock/requests'
import { standardUnit } from '../services/stock/standard-cost'

export type Status = Balance['status']

/** One end of a move: a bin or the way between sites with a status, or a place outside. */
export interface End {
  readonly placeId: number
  readonly status: Status | null
}

/** What a posting touches: an item's lot and piece at a place; `line` is the transfer line whose goods are on the way. */
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

interface Row {
  readonly holdings: readonly {
    item: number
    site: number
    line: number
    quantity: string
    value: string
    n: string | null
    d: string | null
    layers: HeldLayer[]
    lastOn: string | null
    method: CostMethod
    standard: string | null
  }[]
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
 * Locks what a posting touches in one round trip. `exclusive` keeps all other postings out, while cost is worked out again; so does a posting for a day
 * before that of a later move, since it works cost out again too.
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
      holdings.map((h) => {
        const method = methodAt(h.site, h.method)
        const begun = emptyPool(method, standardUnit(h.standard))
        return [
          poolKey(h.item, h.site, h.line),
          {
            lastOn: h.lastOn,
            state: {
              ...begun,
              quantity: ratio(h.quantity),
              value: BigInt(h.value),
              unit: h.n === null ? begun.unit : ratio(h.n).div(ratio(h.d!)),
              layers: h.layers.map((layer) => ({
                ...layer,
                quantity: ratio(layer.quantity),
                value: BigInt(layer.value),
              })),
            },
          },
        ]
      }),
    ),
  }
}

/** Goods on the way are carried at what they left with, whatever the method of their item. */
export const methodAt = (site: number, method: CostMethod): CostMethod => (site === 0 ? 'moving average' : method)
