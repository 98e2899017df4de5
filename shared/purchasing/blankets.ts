import * as z from 'zod'
import { Day, Id, Key, Lines, Note, OptionalId, Page, Price, Typed, Unit, Version } from '../primitives'

/** What is agreed with a supplier over a period. */
export const NewBlanket = z.object({
  key: Key,
  supplierId: Id,
  reference: z.string().trim().max(60, 'Keep it to 60 characters.').default(''),
  fromOn: Day,
  untilOn: Day,
  note: Note,
  lines: Lines(z.object({ itemId: Id, quantity: Typed, unit: Unit, price: Price })),
})
export type NewBlanket = z.output<typeof NewBlanket>
export const EndBlanket = z.object({ key: Key, version: Version })
/** So much of it becomes an order. */
export const CallOff = z.object({
  key: Key,
  version: Version,
  dueOn: Day,
  siteId: OptionalId,
  lines: Lines(z.object({ lineId: Id, quantity: Typed, unit: Unit }), 'Give the quantity of at least one line.'),
})
export type CallOff = z.output<typeof CallOff>
export const BlanketQuery = Page.extend({ status: z.enum(['', 'open', 'ended']).default('open') })

export interface BlanketRow {
  readonly id: number
  readonly number: string
  readonly supplier: string
  readonly fromOn: string
  readonly untilOn: string
  readonly status: 'open' | 'ended'
  readonly summary: string
  /** How much of it is called off, of all lines by value, in per cent. */
  readonly calledPercent: number
}

/** A line with what is called off and received of it: quantities in the stock unit. */
export interface BlanketLine {
  readonly id: number
  readonly line: number
  readonly itemId: number
  readonly code: string
  readonly name: string
  readonly symbol: string
  readonly entered: string
  readonly unit: string
  readonly price: string
  readonly quantity: string
  readonly called: string
  readonly received: string
  readonly rest: string
}

export interface Blanket {
  readonly id: number
  readonly number: string
  readonly supplierId: number
  readonly supplier: string
  readonly currency: string | null
  readonly reference: string
  readonly fromOn: string
  readonly untilOn: string
  readonly status: 'open' | 'ended'
  readonly note: string
  readonly version: number
  readonly lines: readonly BlanketLine[]
  readonly orders: readonly {
    readonly id: number
    readonly number: string
    readonly orderedOn: string
    readonly dueOn: string
    readonly summary: string
    readonly isCancelled: boolean
  }[]
}
