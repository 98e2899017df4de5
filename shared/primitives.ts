import * as z from 'zod'
import { isIsoDate } from '~~/core/calendar/days'
import { typedQuantity } from '~~/core/units/quantity'
import { Filters } from './lists'

/** The largest whole number that a column of ids or versions holds. */
const LARGEST = 2_147_483_647

export const Id = z.coerce.number('Choose one.').int('Choose one.').positive('Choose one.').max(LARGEST, 'Choose one.')
/** One of a list, or none of it. */
export const OptionalId = z.union([z.literal('').transform(() => null), z.null(), Id]).default(null)
export const IdParam = z.object({ id: Id })
/** Made by the client, once per act; the same key twice counts once. */
export const Key = z.uuid('The act has no valid key; reload the page.')
export const KeyOnly = z.object({ key: Key })
const NO_VERSION = 'Reload the page: it does not say which version it shows.'
export const Version = z.number(NO_VERSION).int(NO_VERSION).max(LARGEST, NO_VERSION)
export const Day = z.string('Give a date.').refine(isIsoDate, {
  error: (issue) => `“${String(issue.input)}” is no date. Write it as year-month-day, for example 2026-10-05.`,
})
export const OptionalDay = z.union([Day, z.literal('').transform(() => null), z.null()])
export const Text = (what: string, max = 200) =>
  z.string(`Give ${what}.`).trim().min(1, `Give ${what}.`).max(max, `Keep ${what} to ${max} characters.`)
export const Note = z.string().trim().max(2000, 'Keep the note to 2 000 characters.').default('')
/**
 * What a person typed into a quantity field; read by core with the item's units. A whole number reads alike in every
 * decimal sign.
 */
export const Typed = z
  .union([z.string(), z.int().transform(String)], 'Send a quantity as text, as it was typed.')
  .transform(typedQuantity)
const decimal = (what: string) =>
  z.union([z.string(), z.number().transform(String)], `Give ${what}.`).transform((text) => text.trim())
export const Money = decimal('a price').refine((text) => /^\d+(\.\d{1,6})?$/.test(text), {
  error: (issue) => `“${String(issue.input)}” is no price. Write for example 12.50.`,
})
export const Decimal = (what: string) =>
  decimal(what).refine((text) => /^\d+(\.\d{1,12})?$/.test(text), {
    error: (issue) => `“${String(issue.input)}” is no number for ${what}. Write for example 2 or 0.25.`,
  })
/** The lines of a document. */
export const Lines = <Line extends z.ZodType>(line: Line, empty = 'Add at least one line.') =>
  z.array(line).min(1, empty).max(500, 'A document has at most 500 lines. Put the others into another one.')
export const Page = z.object({
  search: z.string().trim().default(''),
  sort: z.string().default(''),
  page: z.coerce.number().int().min(1).default(1),
  size: z.coerce.number().int().min(1).max(500).default(50),
  filter: Filters,
})
export interface Paged<T> {
  readonly rows: readonly T[]
  readonly total: number
}
export const Unit = z.string('Choose a unit.').min(1, 'Choose a unit.')
export const LotNumber = z.string().trim().max(60, 'Keep a lot number to 60 characters.').default('')
export const Price = z
  .string('Give a price.')
  .trim()
  .regex(/^\d+(\.\d{1,6})?$/, 'Write a price such as 12.50.')
export const FindQuery = z.object({ text: z.string().trim().max(80).default('') })
