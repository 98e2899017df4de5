import type { DateFormat } from '~~/core/calendar/days'
import type { Grouping } from '~~/core/units/quantity'

export interface Company {
  readonly name: string
  readonly currency: string
  readonly minorDigits: number
  readonly decimalSign: '.' | ','
  readonly grouping: Grouping
  readonly dateFormat: DateFormat
  readonly fixedDay: string | null
  readonly calendarId: number | null
  /** Where finished goods usually go. */
  readonly finishedBinId: number | null
  readonly timeZone: string | null
}
