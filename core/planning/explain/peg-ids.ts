/*
 * Pegs name what planned orders need and give by the order and the node: the ids are made here, and read here.
 */
const NEED = '>'
const BY_PRODUCT = '+'
const before = (id: string, sign: string): string => id.slice(0, (id + sign).indexOf(sign))

/** The id of the n-th planned order of a node, from 1. */
export const orderId = (node: string, number: number): string => `planned:${node}:${number}`

/** What an order needs of a node, as a demand. */
export const needId = (order: string, node: string): string => `${order}${NEED}${node}`
/** The order whose need a demand is; the demand itself where it is of no order. */
export const orderOfNeed = (demand: string): string => before(demand, NEED)

/** What an order gives of a node beside its own, as a supply. */
export const byProductId = (order: string, node: string): string => `${order}${BY_PRODUCT}${node}`
/** The order that a supply is of, or is given by. */
export const orderOfSupply = (supply: string): string => before(supply, BY_PRODUCT)
