/** One of what the figures of an item within some days are made of. */
export interface MadeOfPart {
  readonly line: 'wanted' | 'coming' | 'planned' | 'released' | 'lost'
  readonly day: string
  readonly label: string
  readonly quantity: string
  readonly itemId: number | null
}

/** What the figures of an item within some days are made of, with what is there before and after them. */
export interface MadeOf {
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly parts: readonly MadeOfPart[]
  readonly before: string
  readonly after: string
}
