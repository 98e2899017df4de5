/**
 * What has come in and been recorded since a day, in ISO 8601, counted by kind: `sales order`, `goods receipt`, `build`
 * …
 */
export interface ChangedSince {
  /** No item has been entered yet: the company begins. */
  readonly isNew: boolean
  readonly since: string
  readonly changes: readonly { readonly kind: string; readonly count: number }[]
}
