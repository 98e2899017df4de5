import * as z from 'zod'
import { MOST_QUOTED } from '~~/core/buying'
import {
  Day,
  Decimal,
  Id,
  Key,
  Lines,
  Note,
  OptionalDay,
  OptionalId,
  Page,
  Price,
  Typed,
  Unit,
  Version,
} from '../primitives'
import { NamedAmounts } from './charges'
import { Address, Letter, Subject } from './letters'
import { REQUEST_STATUSES, type RequestStatus } from './request-status'

const Suppliers = z
  .array(Id)
  .min(1, 'Choose at least one supplier.')
  .max(MOST_QUOTED, `Ask at most ${MOST_QUOTED} suppliers at once.`)

/** What several suppliers are asked to quote for. */
export const NewQuotationRequest = z.object({
  key: Key,
  answerBy: Day,
  siteId: OptionalId,
  note: Note,
  supplierIds: Suppliers,
  lines: Lines(z.object({ itemId: Id, quantity: Typed, unit: Unit, neededOn: Day, wantId: OptionalId })),
})
export type NewQuotationRequest = z.output<typeof NewQuotationRequest>

const Act = z.object({ key: Key, version: Version })
export const AddSuppliers = Act.extend({ supplierIds: Suppliers })
export const CancelRequest = Act

export const LetterQuery = z.object({ reminder: z.enum(['', 'yes']).default('') })
/** The same letter to several suppliers, each at their own address. */
export const AskSuppliers = Act.extend({
  subject: Subject,
  text: Letter,
  letters: z
    .array(z.object({ supplierId: Id, to: Address }))
    .min(1, 'Choose at least one supplier.')
    .max(MOST_QUOTED),
})
export type AskSuppliers = z.output<typeof AskSuppliers>

const Days = z
  .int('Write whole working days.')
  .min(0, 'Write whole working days.')
  .max(1000, 'More than 1 000 working days are not planned with.')
/** What a supplier quotes: the lines that they sell, or that they do not. */
export const RecordQuotation = Act.extend({
  supplierId: Id,
  isDeclined: z.boolean().default(false),
  reference: z.string().trim().max(60, 'Keep it to 60 characters.').default(''),
  validUntil: OptionalDay.default(null),
  charges: NamedAmounts,
  note: Note,
  lines: z
    .array(
      z.object({
        lineId: Id,
        unit: Unit,
        price: Price,
        minimum: Decimal('the minimum').default('0'),
        multiple: Decimal('the multiple').default('0'),
        leadDays: Days,
        tiers: z
          .array(z.object({ fromQuantity: Decimal('the quantity'), price: Price }))
          .max(10, 'Keep it to ten prices.')
          .default([]),
      }),
    )
    .max(500)
    .default([]),
})
export type RecordQuotation = z.output<typeof RecordQuotation>

/** A supplier's answer as a file. */
export const QuotationFile = z.object({
  supplierId: Id,
  fileName: z.string().trim().min(1, 'Choose a file.').max(200),
  content: z.base64('The file could not be read.').max(4_000_000, 'Keep a file under 3 MB.'),
})
export const QuotationFileQuery = z.object({ supplier: Id })

/** Who is taken for which line: into the terms of the item, into orders, or both. */
export const TakeQuotations = Act.extend({
  intoTerms: z.boolean(),
  intoOrders: z.boolean(),
  lines: Lines(z.object({ lineId: Id, supplierId: Id }), 'Choose a supplier for at least one line.'),
}).refine(({ intoTerms, intoOrders }) => intoTerms || intoOrders, {
  error: 'Choose whether it goes into terms, into orders, or both.',
  path: ['intoOrders'],
})
export type TakeQuotations = z.output<typeof TakeQuotations>

export const RequestQuery = Page.extend({ status: z.enum(['', ...REQUEST_STATUSES]).default('open') })

export interface RequestRow {
  readonly id: number
  readonly number: string
  readonly askedOn: string
  readonly answerBy: string
  readonly status: RequestStatus
  readonly suppliers: string
  readonly summary: string
  readonly asked: number
  readonly answered: number
}

/** A line that is asked for. Quantity in the stock unit, `entered` in `unit`. */
export interface RequestLine {
  readonly id: number
  readonly line: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly entered: string
  readonly unit: string
  readonly quantity: string
  readonly neededOn: string
  /** The customer's order that it is wanted for. */
  readonly forOrder: string | null
  /** What was paid last for one stock unit, in the company's currency. */
  readonly lastPrice: string | null
}

/** What a supplier quotes for a line, for one of `unit`; amounts in minor units of the company's currency. */
export interface QuotedRow {
  readonly lineId: number
  readonly unit: string
  readonly price: string
  readonly tiers: readonly { readonly fromQuantity: string; readonly price: string }[]
  readonly minimum: string
  readonly multiple: string
  readonly leadDays: number
  /** What has to be bought to have what is asked for, the price that holds for so much, and what it costs. */
  readonly quantity: string
  readonly priceThen: string
  /** Null where no rate is known, or where the item cannot be measured in the unit. */
  readonly amount: string | null
  readonly landed: string | null
  readonly arrivesOn: string
  readonly order: { readonly id: number; readonly number: string } | null
}

export interface QuotationRow {
  readonly supplierId: number
  readonly supplier: string
  readonly email: string
  readonly currency: string | null
  readonly sentOn: string | null
  readonly remindedOn: string | null
  readonly answeredOn: string | null
  readonly isDeclined: boolean
  readonly reference: string
  readonly validUntil: string | null
  readonly charges: readonly { readonly name: string; readonly amount: string }[]
  readonly note: string
  readonly lines: readonly QuotedRow[]
  /** All that they quote with their charges, in minor units of the company's currency. */
  readonly total: string | null
  readonly isWhole: boolean
}

/** Who is taken for each line at the least total, which holds the charges of each supplier once. */
export interface LeastTotal {
  readonly total: string
  readonly suppliers: readonly { readonly lineId: number; readonly supplierId: number }[]
}

export interface QuotationRequest {
  readonly id: number
  readonly number: string
  readonly askedOn: string
  readonly answerBy: string
  readonly siteId: number | null
  readonly site: string | null
  readonly status: RequestStatus
  readonly note: string
  readonly version: number
  readonly lines: readonly RequestLine[]
  readonly quotations: readonly QuotationRow[]
  readonly least: LeastTotal | null
  /** The same of what would be there by the day on which it is needed, where that is another choice. */
  readonly leastInTime: LeastTotal | null
}
