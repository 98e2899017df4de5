/*
 * A plan names what it reads by kind and number, `purchase:12`: the ids are made here, and read here.
 */
export type SupplyKind = 'purchase' | 'transfer' | 'build'

/** A sales order's line, as a demand. */
export const salesId = (lineId: number): string => `sales:${lineId}`

/** A line of a purchase order or transfer, or a build; of what else a build brings, the item beside. */
export const supplyId = (kind: SupplyKind, id: number, itemId?: number): string =>
  itemId === undefined ? `${kind}:${id}` : `${kind}:${id}:${itemId}`

/** A break-down, as a demand of the bulk item; with an item beside, what it brings of that. */
export const breakDownId = (id: number, itemId?: number): string =>
  itemId === undefined ? `break-down:${id}` : `break-down:${id}:${itemId}`

/** The kind and the number that a supply's id was made of. */
export function readSupplyId(supply: string): { readonly kind: SupplyKind; readonly id: number } {
  const [kind, id] = supply.split(':')
  return { kind: kind as SupplyKind, id: Number(id) }
}
