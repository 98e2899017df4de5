export interface Company {
  readonly name: string
  readonly currency: string
  readonly minorDigits: number
  readonly decimalSign: '.' | ','
  readonly fixedDay: string | null
}
