/** What a line orders: its quantity as it was typed, in its unit, the price of one of it, and the day it is due. */
export interface OrderedAs {
  readonly entered: string
  readonly unit: string
  readonly price: string
  readonly dueOn: string
}

/** A line of a purchase order as the supplier was told of it. */
export interface SentLine extends OrderedAs {
  readonly lineId: number
  readonly code: string
}

/** What is different about a line since it was sent; `before` is null for a new line, `after` for one that is gone. */
export interface LineDifference {
  readonly code: string
  readonly before: OrderedAs | null
  readonly after: OrderedAs | null
}

const isSame = (a: OrderedAs, b: OrderedAs): boolean =>
  a.entered === b.entered && a.unit === b.unit && a.price === b.price && a.dueOn === b.dueOn

/** What a supplier who knows the lines as they were sent has to be told, line by line. */
export function differences(sent: readonly SentLine[], now: readonly SentLine[]): LineDifference[] {
  const known = new Map(sent.map((line) => [line.lineId, line]))
  const kept = new Set(now.map((line) => line.lineId))
  return [
    ...now.flatMap((after) => {
      const before = known.get(after.lineId) ?? null
      return before && isSame(before, after) ? [] : [{ code: after.code, before, after }]
    }),
    ...sent.filter((line) => !kept.has(line.lineId)).map((before) => ({ code: before.code, before, after: null })),
  ]
}
