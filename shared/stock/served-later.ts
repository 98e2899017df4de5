/** A demand that is served later than it would be, or not at all (`coveredOn` null). */
export interface ServedLater {
  readonly label: string
  readonly link: string
  readonly code: string
  readonly quantity: string
  readonly symbol: string
  readonly wantedOn: string
  readonly coveredOn: string | null
}
