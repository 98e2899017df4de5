import * as z from 'zod'
import { isNumberPattern } from '~~/core/codes'
import { ItemEdit } from './item'
import { Address, GroupDefaults, Trait } from './item-parts'
import { Exact, mark, OneOf, optional } from './fields'
import { Day, Decimal, Id, Note, OptionalId, Page, Text, Version } from '../primitives'
import { BillEdit, BreakDownEdit } from '../structure/requests'
import { DIMENSIONS, DEFINITIONS, type DefinitionKind } from './words'

const Code = Text('a code', 40)
const Name = Text('a name')
const Email = z.union([z.literal(''), z.email('Give an e-mail address.')]).default('')
const Line = (max = 200) => z.string().trim().max(max, `Keep it to ${max} characters.`).default('')
const head = { code: Code, name: Name, note: Note, retired: z.boolean().default(false) }
export const UnitEdit = z
  .object({
    code: Text('a code', 20),
    name: Text('a name', 60),
    plural: Text('the plural', 60),
    symbol: Text('a symbol', 20),
    dimension: OneOf(DIMENSIONS),
    /** Reference units in one of it; empty for a pack. */
    per: optional(Exact),
    decimals: z.coerce
      .number('Give decimals.')
      .int('Give whole decimals.')
      .min(0, 'Not below zero.')
      .max(9, 'Nine at most.')
      .default(2),
    rec20: optional(
      z
        .string()
        .trim()
        .regex(/^[A-Z0-9]{2,3}$/, 'A UN/ECE code has two or three capital letters or digits, such as KGM.'),
    ),
    retired: z.boolean().default(false),
  })
  .superRefine((unit, context) => {
    if (unit.dimension === 'pack' && unit.per !== null) {
      context.addIssue({
        code: 'custom',
        path: ['per'],
        message: 'What a pack holds is stated on each item, not here.',
      })
    }
    if (unit.dimension !== 'pack' && (unit.per === null || !/[1-9]/.test(unit.per))) {
      context.addIssue({ code: 'custom', path: ['per'], message: 'Give what one of it is, above zero.' })
    }
  })
export const GroupEdit = z.object({
  code: Code,
  name: Name,
  parentId: OptionalId,
  note: Note,
  numberPattern: z
    .string()
    .trim()
    .max(40)
    .refine((p) => p === '' || isNumberPattern(p), 'Write a pattern with # for each digit, for example GLUE-###.')
    .default(''),
  defaults: GroupDefaults.default({}),
  traits: z.array(Trait).max(40).default([]),
})
export const SupplierEdit = z.object({
  ...head,
  email: Email,
  phone: Line(60),
  contact: Line(),
  address: Line(500),
  calendarId: OptionalId,
  currencyId: OptionalId,
  paymentTerms: Line(),
  /** In the currency that they are paid in. */
  minimumOrder: mark('the least that an order is worth'),
  freeFreight: mark('the value from which freight is free'),
  /** In per cent of what was ordered: so much more is taken in without a reason. */
  overDelivery: mark('per cent'),
})
export const CustomerEdit = z.object({
  ...head,
  email: Email,
  phone: Line(60),
  address: Line(500),
  addresses: z.array(Address).max(100).default([]),
  siteId: OptionalId,
  priceListId: OptionalId,
})
export const PriceListEdit = z.object(head)
export const SiteEdit = z.object({
  ...head,
  calendarId: OptionalId,
  address: Line(500),
  outside: z.boolean().default(false),
})
export const BinEdit = z
  .object({
    ...head,
    siteId: Id,
    pickOrder: z.coerce.number('Give a number.').int('Give a whole number.').min(0, 'Not below zero.').default(0),
    closedToPicking: z.boolean().default(false),
    closedToReceiving: z.boolean().default(false),
    quarantine: z.boolean().default(false),
    // What lies in quarantine is not picked.
  })
  .transform((bin) => ({ ...bin, closedToPicking: bin.closedToPicking || bin.quarantine }))
export const RouteEdit = z
  .object({
    ...head,
    fromSiteId: Id,
    toSiteId: Id,
    days: z.coerce
      .number('Give days.')
      .int('Give whole days.')
      .min(0, 'Not below zero.')
      .max(365, 'A year at most.')
      .default(0),
  })
  .refine((route) => route.fromSiteId !== route.toSiteId, {
    path: ['toSiteId'],
    message: 'Choose another site than the one it begins at.',
  })
export const CalendarEdit = z
  .object({
    name: Name,
    note: Note,
    weekdays: z
      .array(z.boolean())
      .length(7)
      .refine((week) => week.includes(true), 'At least one day of the week is worked.'),
    /** Hours of work on a working day, all hands together; null where nobody has said. */
    workHours: optional(
      Decimal('the hours').refine((text) => Number(text) > 0 && Number(text) <= 10_000, 'Give hours above zero.'),
    ),
    closed: z
      .array(z.object({ day: Day, note: Line() }))
      .max(4000)
      .default([]),
  })
  .superRefine((calendar, context) => {
    const seen = new Set<string>()
    calendar.closed.forEach(({ day }, index) => {
      if (seen.has(day)) {
        context.addIssue({ code: 'custom', path: ['closed', index, 'day'], message: 'This day is there already.' })
      }
      seen.add(day)
    })
  })
export const CurrencyEdit = z
  .object({
    code: z
      .string('Give its three letters.')
      .trim()
      .regex(/^[A-Z]{3}$/, 'Give the three letters of ISO 4217, for example GBP.'),
    name: Name,
    retired: z.boolean().default(false),
    rates: z
      .array(z.object({ fromOn: Day, rate: Exact.refine((t) => /[1-9]/.test(t), 'Give a rate above zero.') }))
      .max(5000)
      .default([]),
  })
  .superRefine((currency, context) => {
    const seen = new Set<string>()
    currency.rates.forEach(({ fromOn }, index) => {
      if (seen.has(fromOn)) {
        context.addIssue({
          code: 'custom',
          path: ['rates', index, 'fromOn'],
          message: 'A rate from this day is there already.',
        })
      }
      seen.add(fromOn)
    })
  })

/** What each kind of definition is made of. */
export const DEFINITION_SCHEMAS = {
  items: ItemEdit,
  units: UnitEdit,
  groups: GroupEdit,
  suppliers: SupplierEdit,
  customers: CustomerEdit,
  'price-lists': PriceListEdit,
  sites: SiteEdit,
  bins: BinEdit,
  routes: RouteEdit,
  calendars: CalendarEdit,
  currencies: CurrencyEdit,
  bills: BillEdit,
  'break-downs': BreakDownEdit,
} as const
export type Definition<K extends DefinitionKind> = z.output<(typeof DEFINITION_SCHEMAS)[K]>
export type Stored<K extends DefinitionKind> = Definition<K> & { readonly id: number; readonly version: number }

export const KindParam = z.object({ kind: z.enum(DEFINITIONS, 'There is no such list.') })
export const DefinitionParam = KindParam.extend({ id: Id })
/** `confirmed`: whoever saves has seen what it changes elsewhere. */
export const SaveDefinition = z.object({
  version: Version,
  definition: z.unknown(),
  confirmed: z.boolean().default(false),
})
export const NewDefinition = z.object({ definition: z.unknown() })
export const DefinitionQuery = Page.extend({ retired: z.enum(['', 'yes']).default('') })
export const HolidayQuery = z.object({
  country: z.string().regex(/^[A-Z]{2}$/, 'Choose a country.'),
  state: z.string().trim().max(10).default(''),
  year: z.coerce.number().int().min(1950).max(2100),
})
export const CountryQuery = z.object({
  country: z
    .string()
    .regex(/^[A-Z]{2}$/)
    .optional(),
})
export const CalendarFile = z.object({ text: z.string('Choose a file.').max(5_000_000, 'Keep a calendar under 5 MB.') })
