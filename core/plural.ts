/**
 * The word that fits a number: one of something, or several (and none).
 *
 * @example plural(1, 'order', 'orders') → order; plural(0, 'order', 'orders') → orders
 */
export const plural = (count: number, one: string, many: string): string => (count === 1 ? one : many)
