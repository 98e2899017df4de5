/** A definition as its form holds it: text in every field that is typed, numbers only where they point at something. */
export type AsForm<T> = T extends readonly (infer U)[]
  ? AsForm<U>[]
  : T extends boolean
    ? boolean
    : T extends object
      ? { -readonly [K in keyof T]: K extends `${string}Id` ? number | null : AsForm<T[K]> }
      : string

const points = (key: string): boolean => /Id$/.test(key)

export function asForm<T>(value: T, key = ''): AsForm<T> {
  if (Array.isArray(value)) {
    return value.map((entry) => asForm(entry as unknown)) as AsForm<T>
  }
  if (value === null || value === undefined) {
    return (points(key) ? null : '') as AsForm<T>
  }
  if (typeof value === 'object') {
    return Object.fromEntries(
      Object.entries(value).map(([name, entry]) => [name, asForm(entry as unknown, name)]),
    ) as AsForm<T>
  }
  return (
    typeof value === 'number' && !points(key) && key !== 'id' && key !== 'version' ? String(value) : value
  ) as AsForm<T>
}
