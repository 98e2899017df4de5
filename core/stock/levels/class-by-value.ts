/** The class of an item by the value it turned over. */
export type ValueClass = 'A' | 'B' | 'C'

/**
 * Sorts items into classes by what they turned over: A makes up the first 80 % of the value, B the next 15 %, C the
 * rest.
 *
 * An item belongs to the class in which its own value begins, so that the largest is always A. Nothing turned over is
 * C.
 * Source: the shares are common practice after Dickie, "ABC inventory analysis shoots for dollars, not pennies" (1951);
 *         from memory.
 */
export function classByValue<T>(
  items: readonly { readonly id: T; readonly value: bigint }[],
): ReadonlyMap<T, ValueClass> {
  const total = items.reduce((sum, item) => sum + item.value, 0n)
  let before = 0n
  const classes = new Map<T, ValueClass>()
  for (const { id, value } of [...items].sort((a, b) => {
    if (a.value === b.value) {
      return 0
    }
    if (a.value > b.value) {
      return -1
    }
    return 1
  })) {
    classes.set(id, classAt(value, before, total))
    before += value
  }
  return classes
}

/**
 * The class of what begins after `before` of the total: A up to 80 %, B up to 95 %, C the rest and what is worth
 * nothing.
 */
function classAt(value: bigint, before: bigint, total: bigint): ValueClass {
  if (value === 0n || before * 100n >= total * 95n) {
    return 'C'
  }
  return before * 100n < total * 80n ? 'A' : 'B'
}
