import * as z from 'zod'
import { Money, OptionalId, Text, Version } from '../primitives'

const isTimeZone = (name: string): boolean => {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name })
    return true
  } catch {
    return false
  }
}

/** The three letters of a currency (ISO 4217) that the list of the Unicode consortium knows. */
export const CurrencyCode = z
  .string('Give the three letters of the currency, for example EUR.')
  .trim()
  .toUpperCase()
  .refine((code) => Intl.supportedValuesOf('currency').includes(code), {
    error: (issue) => `“${String(issue.input)}” is no currency. Give its three letters, for example EUR.`,
  })

/** An IANA name; blank and null are the server's own zone. */
export const TimeZone = z
  .string()
  .trim()
  .nullable()
  .transform((name) => (name === '' ? null : name))
  .refine((name) => name === null || isTimeZone(name), {
    error: (issue) => `“${String(issue.input)}” is no time zone. Write for example Europe/Berlin.`,
  })

/** What the company sets for everyone: its name, how numbers are written, its working days and its clock. */
export const CompanySettings = z.object({
  version: Version,
  name: Text('the company’s name'),
  currency: CurrencyCode,
  decimalSign: z.enum(['.', ','], 'Choose how a decimal number is written.'),
  grouping: z.enum(['space', 'sign', 'none'], 'Choose how thousands are grouped.'),
  dateFormat: z.enum(['day month', 'month day', 'numbers', 'iso'], 'Choose how a date is written.'),
  calendarId: OptionalId,
  /** The bin where finished goods usually go; none: the first in the order of picking. */
  finishedBinId: OptionalId,
  /** The customer that orders of the web shop are for, where their buyer is none that is known. */
  webCustomerId: OptionalId,
  timeZone: TimeZone,
  /** Minutes without an act, and days in any case, after which somebody signs in again. */
  sessionMinutes: z.number('Choose how long.').int().min(5, 'At least five minutes.').max(10_080, 'At most a week.'),
  /** The sum above which a purchase order is approved before it is sent; blank: none. */
  approveAbove: z.union([z.literal('').transform(() => null), z.null(), Money]).default(null),
  /** What goes out with a purchase order; blank for the usual letter. */
  orderLetter: z.string().trim().max(5000, 'Keep the letter to 5 000 characters.').default(''),
  sessionDays: z.number('Choose how long.').int().min(1, 'At least a day.').max(365, 'At most a year.'),
})
export type CompanySettings = z.output<typeof CompanySettings>

export interface CompanySettingsAnswer extends CompanySettings {
  /** The company’s day, by its clock. */
  readonly today: string
  /** The time zone of the server, by whose clock a company goes that has chosen none. */
  readonly serverZone: string
  /** Whether value is on the books, so that the currency stays. */
  readonly hasValue: boolean
}
