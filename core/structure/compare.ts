/** How two revisions of a list differ: entries of the same key are the same entry, the second of a key the second. */
export interface Difference<T> {
  readonly kind: 'added' | 'removed' | 'changed' | 'same'
  readonly before: T | null
  readonly after: T | null
  readonly fields: readonly (keyof T)[]
}

/**
 * Lays two lists side by side.
 *
 * Shape: in the order of `after`; what was removed stands behind what it stood behind before.
 */
export function compareLists<T extends object>(
  before: readonly T[],
  after: readonly T[],
  keyOf: (entry: T) => string,
  fields: readonly (keyof T)[],
): readonly Difference<T>[] {
  const left = numbered(before, keyOf)
  const right = new Map(numbered(after, keyOf))
  const was = new Map(left)
  const rows: Difference<T>[] = [...right].map(([key, entry]) => {
    const old = was.get(key)
    if (!old) {
      return { kind: 'added', before: null, after: entry, fields: [] }
    }
    const changed = fields.filter((field) => JSON.stringify(old[field]) !== JSON.stringify(entry[field]))
    return { kind: changed.length > 0 ? 'changed' : 'same', before: old, after: entry, fields: changed }
  })
  left.forEach(([key, entry], index) => {
    if (right.has(key)) {
      return
    }
    const above = left[index - 1]?.[1]
    const place = above ? rows.findIndex((row) => row.before === above) + 1 : 0
    rows.splice(place, 0, { kind: 'removed', before: entry, after: null, fields: [] })
  })
  return rows
}

function numbered<T>(list: readonly T[], keyOf: (entry: T) => string): [string, T][] {
  const seen = new Map<string, number>()
  return list.map((entry) => {
    const key = keyOf(entry)
    seen.set(key, (seen.get(key) ?? 0) + 1)
    return [`${key} ${seen.get(key)}`, entry]
  })
}
