/** What of the books is kept as a sum, and is worked out again from the moves. */
export const CHECKED = [
  'on hand',
  'allocated',
  'set aside',
  'value of a move',
  'standard cost',
  'work written off',
  'stock value',
  'journal',
  'month end',
  'document',
] as const

export type Checked = (typeof CHECKED)[number]

/** The unit of sums of money, in minor units. */
export const MINOR = 'money'

/**
 * One thing that the books keep otherwise than what was recorded comes to. `what`: as a sentence names it, the item's
 * code first where there is one.
 *
 * `kept` and `worked`: in the unit that `unit` is the symbol of, in minor units of the company's currency (`money`), or
 * in words (null).
 */
export interface LedgerDifference {
  readonly kind: Checked
  readonly what: string
  readonly kept: string
  readonly worked: string
  readonly unit: string | null
}
