import * as z from 'zod'
import { ratio, toText } from '~~/core/units/exact'
import { Decimal, Id, OptionalDay } from '../primitives'

/** One of a few words; what is none of them is told which there are. */
export const OneOf = <const T extends readonly [string, ...string[]]>(words: T) =>
  z.enum(words, {
    error: (issue) =>
      `${issue.input === undefined ? 'Choose' : `“${String(issue.input)}” is not`} one of: ${words.join(', ')}.`,
  })

/** An exact number above zero. */
export const positiveAmount = (what: string) => Exact.refine((text) => /[1-9]/.test(text), `Give ${what} above zero.`)

/** The code of a unit. */
export const unit = z.string('Choose a unit.').min(1, 'Choose a unit.')

/** An exact number, as the one text that stands for it. */
export const Exact = z
  .string('Type a number.')
  .trim()
  .regex(/^(\d+(\.\d+)?|\d+\/[1-9]\d*)$/, 'Write a number such as 24, 1.32 or 1/3.')
  .transform((text) => toText(ratio(text)))

const empty = z.union([z.literal(''), z.null()]).transform(() => null)

/** An empty field is nothing; anything else is read, and told of, as the schema does. */
export const optional = <S extends z.ZodType>(schema: S) =>
  z.union([empty, schema], { error: (issue) => schema.safeParse(issue.input).error?.issues[0]?.message }).default(null)

export const OptionalId = optional(Id)

/** Working days of a lead time. */
export const Days = (what: string) =>
  z.coerce
    .number(`Give ${what}.`)
    .int('Give whole working days.')
    .min(0, 'A lead time is not below zero.')
    .max(730, 'Two years at most.')

/** A place among several, the first being 1. */
export const Rank = z.coerce
  .number('Give a rank.')
  .int('Give a whole rank.')
  .min(1, 'Ranks begin at 1.')
  .max(99, 'Ranks end at 99.')

/** A short text; nothing where it is left out. */
export const Short = (max = 80) => z.string().trim().max(max, `Keep it to ${max} characters.`).default('')

/** A mark of stock: a quantity, or none. */
export const mark = (what: string) => optional(Decimal(what))

/** From a day on, until a day; either may be open. */
export const Span = { fromOn: OptionalDay.default(null), untilOn: OptionalDay.default(null) }

/** Whether a span does not end before it begins; else `ENDS_FIRST` is said. */
export const inOrder = (span: { fromOn: string | null; untilOn: string | null }): boolean =>
  span.fromOn === null || span.untilOn === null || span.fromOn <= span.untilOn

export const ENDS_FIRST = { message: 'It ends before it begins.', path: ['untilOn'] }
