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
  /** What is written to a supplier with a purchase order; empty for the usual text. */
  readonly orderLetter: string
}

/** One line of what was changed, or of who signed in. */
export interface AuditRow {
  readonly id: number
  readonly at: string
  readonly who: string
  readonly entity: string
  readonly entityId: string
  readonly label: string
  /** The network address, where that is kept. */
  readonly address: string
  /** What happened, in words: before → after. */
  readonly said: string
}

/** A file with everything, as it was in one moment. */
export interface BackupRow {
  /** The name of its file. */
  readonly id: string
  readonly madeAt: string
  readonly bytes: number
}
export interface Backups {
  readonly folder: string
  readonly rows: readonly BackupRow[]
  readonly freeBytes: number
  /** No good one of the last two days: somebody should look. */
  readonly isOverdue: boolean
}
