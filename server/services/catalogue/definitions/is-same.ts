/** Whether two values of a definition say the same: lists whatever their order, and without what counts versions. */
export function isSame(a: unknown, b: unknown): boolean {
  return canonical(a) === canonical(b)
}

function canonical(value: unknown): string {
  if (Array.isArray(value)) {
    return `[${(value.every((v) => typeof v === 'object' && v !== null) ? value.map(canonical).sort() : value.map(canonical)).join()}]`
  }
  if (typeof value !== 'object' || value === null) {
    return JSON.stringify(value ?? null)
  }
  return `{${Object.entries(value)
    .filter(([name, v]) => name !== 'id' && name !== 'version' && v !== undefined)
    .sort(([x], [y]) => (x < y ? -1 : 1))
    .map(([name, v]) => `${name}:${canonical(v)}`)
    .join()}}`
}
