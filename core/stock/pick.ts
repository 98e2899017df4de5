import { ZERO, type Ratio } from '../units/exact'
import type { Balance } from './apply-moves'

/** A balance with what decides the order of picking. */
export interface Pickable extends Balance {
  readonly expiresOn: string | null
  readonly receivedOn: string | null
  readonly pickOrder: number
  readonly closedToPicking: boolean
}

export type Pick<T extends Pickable = Pickable> = T & { readonly quantity: Ratio }

/**
 * Chooses what to take for `quantity`: soonest expiry, then oldest, then bin order.
 *
 * Closed bins, other statuses and lots past their expiry on `today` are skipped; allocated goods are left alone.
 * Shape: `missing` is what could not be found; zero where the picks add up to `quantity`.
 */
export function pick<T extends Pickable>(
  stock: readonly T[],
  quantity: Ratio,
  today: string,
): { readonly picks: readonly Pick<T>[]; readonly missing: Ratio } {
  const picks: Pick<T>[] = []
  let missing = quantity
  for (const here of pickOrder(stock)) {
    if (missing.compare(ZERO) <= 0) {
      break
    }
    if (here.status !== 'available' || here.closedToPicking || (here.expiresOn !== null && here.expiresOn < today)) {
      continue
    }
    const free = here.onHand.sub(here.allocated)
    if (free.compare(ZERO) <= 0) {
      continue
    }
    const taken = free.compare(missing) < 0 ? free : missing
    picks.push({ ...here, quantity: taken })
    missing = missing.sub(taken)
  }
  return { picks, missing }
}

/** Goods in the order in which they are picked: what expires sooner, was received sooner, lies earlier on the walk. */
export function pickOrder<T extends Pickable>(stock: readonly T[]): readonly T[] {
  const never = '9999-12-31'
  const key = (p: Pickable): string =>
    `${p.expiresOn ?? never}|${p.receivedOn ?? never}|${String(p.pickOrder).padStart(9, '0')}|${p.bin}|${(p.lot ?? '').padStart(12, '0')}`
  return [...stock].sort((a, b) => (key(a) < key(b) ? -1 : 1))
}
