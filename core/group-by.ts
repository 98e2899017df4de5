/** Collects values by a key, in the order in which they come. (Map.groupBy, which Node 20 lacks.) */
export function groupBy<T, K>(values: Iterable<T>, keyOf: (value: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const value of values) {
    const key = keyOf(value)
    const group = groups.get(key)
    if (group) {
      group.push(value)
    } else {
      groups.set(key, [value])
    }
  }
  return groups
}
