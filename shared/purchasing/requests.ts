import * as z from 'zod'
import {
  Day,
  Id,
  Key,
  Lines,
  LotNumber,
  Note,
  OptionalDay,
  OptionalId,
  Page,
  Price,
  Text,
  Typed,
  Unit,
  Version,
} from '../primitives'
import { STOCK_STATUSES } from '~~/core/stock'
import { NamedAmounts } from './charges'
import { Address, Letter, Subject } from './letters'
import { RETURNS_EXPECT } from './returns'
import { SPREADS } from '~~/core/invoicing'
import { PURCHASE_STATES } from './state'
import { EffectiveOn, PieceLabel, Traits } from '../stock/requests'

/** A discount in per cent is taken off `price`. */
const Discount = z.union([
  z.literal(''),
  z
    .string()
    .trim()
    .regex(/^\d{1,2}(\.\d{1,4})?$/, 'Write per cent below a hundred, such as 5 or 2.5.'),
])
export const PurchaseLineEdit = z.object({
  itemId: Id,
  quantity: Typed,
  unit: Unit,
  price: Price,
  discount: Discount.default(''),
  dueOn: Day,
})
const Terms = z.string().trim().max(200, 'Keep it to 200 characters.').default('')
/** Something that somebody wants bought, for a sales order or for itself. */
export const NewWant = z.object({
  key: Key,
  itemId: Id,
  quantity: Typed,
  unit: Unit,
  neededOn: Day,
  siteId: OptionalId,
  note: z.string().trim().max(200, 'Keep it to 200 characters.').default(''),
  salesLineId: OptionalId,
  /** The supplier is to deliver it to the customer of that line by themselves. */
  isDirect: z.boolean().default(false),
})
export type NewWant = z.output<typeof NewWant>
/** What the suppliers of an item would ask for so much of it. */
export const AskOffers = z.object({ itemId: Id, quantity: Typed, unit: Unit })
/** What is chosen of the buying list: it becomes orders, one for each supplier and place of delivery. */
export const OrderNeeds = z.object({
  key: Key,
  /** Whether it goes on drafts that are there, where one fits; `orderId`: on this one. */
  onDrafts: z.boolean().default(false),
  orderId: OptionalId,
  lines: Lines(
    PurchaseLineEdit.extend({ supplierId: Id, siteId: OptionalId, wantId: OptionalId }),
    'Choose what is to be ordered.',
  ),
})
export type OrderNeeds = z.output<typeof OrderNeeds>
export const NewPurchaseOrder = z.object({
  key: Key,
  supplierId: Id,
  siteId: Id.nullish(),
  note: Note,
  paymentTerms: Terms,
  deliveryTerms: Terms,
  /** A number of one's own; none: the next one. */
  number: z.string().trim().max(40, 'Keep a number to 40 characters.').default(''),
  charges: NamedAmounts,
  lines: Lines(PurchaseLineEdit),
})
export const ChangedPurchaseOrder = NewPurchaseOrder.omit({ key: true, supplierId: true, number: true }).extend({
  version: Version,
  lines: Lines(PurchaseLineEdit.extend({ id: Id.nullable().default(null) })),
})
export type ChangedPurchaseOrder = z.infer<typeof ChangedPurchaseOrder>
/** To cancel an order, to open it again, or to approve it. */
export const PurchaseAct = z.object({ key: Key, version: Version })
export const SendPurchase = PurchaseAct.extend({ to: Address, subject: Subject, text: Letter })
export type SendPurchase = z.infer<typeof SendPurchase>
/** Several at once, each with the usual letter, to the address of its supplier. */
export const SendPurchases = z.object({
  key: Key,
  orders: z
    .array(z.object({ id: Id, version: Version }))
    .min(1, 'Choose at least one order.')
    .max(100),
})
export const ConfirmPurchase = PurchaseAct.extend({
  reference: z.string().trim().max(60, 'Keep it to 60 characters.').default(''),
  lines: Lines(z.object({ lineId: Id, quantity: Typed, price: Price, dueOn: Day })),
})
export type ConfirmPurchase = z.infer<typeof ConfirmPurchase>
/** Several orders, by their ids with commas between them. */
export const PurchaseIds = z.object({
  ids: z
    .string()
    .regex(/^\d{1,9}(,\d{1,9}){0,99}$/, 'Choose one to a hundred orders.')
    .transform((text) => text.split(',').map(Number)),
})
/** What a supplier answers, as a file. */
export const AnswerFile = z.object({
  text: z.string().min(1, 'Choose a file.').max(2_000_000, 'Keep a file under 2 MB.'),
})
/** An order while it is typed: only its whole lines. */
export const PurchaseDraft = NewPurchaseOrder.pick({ supplierId: true, lines: true })
export type NewPurchaseOrder = z.infer<typeof NewPurchaseOrder>
export const Receive = z.object({
  key: Key,
  version: Version,
  packingList: z.string().trim().max(80, 'Keep it to 80 characters.').default(''),
  /** The list was received before and this belongs to it too: it covers several orders, say. */
  sameList: z.boolean().default(false),
  effectiveOn: EffectiveOn,
  lines: z
    .array(
      z.object({
        lineId: Id,
        quantity: Typed,
        unit: Unit,
        /** What came instead of what was ordered, and how much of that it counts as, in the line's unit. */
        substituteId: OptionalId,
        countsAs: Typed.nullish(),
        binId: Id,
        lot: LotNumber,
        expiresOn: OptionalDay.default(null),
        /** Why more than was ordered, or what has expired, is taken in. */
        reason: z.string().trim().max(120, 'Keep it to 120 characters.').default(''),
        traits: Traits,
        /**
         * Of an item that is kept in pieces: each with its measure; `quantity` is then what the packing list says of
         * all.
         */
        pieces: z
          .array(z.object({ quantity: Typed, unit: Unit, label: PieceLabel, lot: LotNumber, traits: Traits }))
          .max(500)
          .default([]),
      }),
    )
    .min(1, 'Give the quantity of at least one line.'),
})
export type Receive = z.infer<typeof Receive>
/** What a supplier delivered to a customer by themselves. */
export const DeliverDirect = z.object({
  key: Key,
  version: Version,
  packingList: z.string().trim().max(80, 'Keep it to 80 characters.').default(''),
  effectiveOn: EffectiveOn,
  lines: Lines(
    z.object({
      lineId: Id,
      quantity: Typed,
      unit: Unit,
      lot: LotNumber,
      expiresOn: OptionalDay.default(null),
    }),
    'Give the quantity of at least one line.',
  ),
})
export type DeliverDirect = z.infer<typeof DeliverDirect>
/** Goods that came on no order: a supplier's packing list, line by line. An empty price is that of their terms. */
export const ReceiveUnordered = z.object({
  key: Key,
  supplierId: Id,
  packingList: z.string().trim().max(80, 'Keep it to 80 characters.').default(''),
  effectiveOn: EffectiveOn,
  note: Note,
  /** Whether it waits on hold until somebody has said that it is kept. */
  isHeld: z.boolean().default(true),
  lines: Lines(
    z.object({
      itemId: Id,
      quantity: Typed,
      unit: Unit,
      price: z.union([z.literal(''), Price]).default(''),
      binId: Id,
      lot: LotNumber,
      expiresOn: OptionalDay.default(null),
    }),
  ),
})
export type ReceiveUnordered = z.output<typeof ReceiveUnordered>
const AMOUNT = 'Write an amount such as 230.00.'
const Amount = z
  .string()
  .trim()
  .regex(/^\d{1,12}(\.\d{1,2})?$/, AMOUNT)
/** Freight, duty and the like; a rebate is below nought. */
const Charge = z.object({
  name: Text('what it is for', 60),
  amount: z
    .string()
    .trim()
    .regex(/^-?\d{1,12}(\.\d{1,2})?$/, AMOUNT),
  by: z.enum(SPREADS),
})
const Charges = z.array(Charge).max(20, 'Keep it to 20 charges.').default([])
/** The receipts that charges are spread over; none: those that the invoice pays for, else all of the order. */
const Receipts = z.array(Id).max(300, 'Choose up to 300 receipts.').default([])
const Invoiced = z.object({
  invoicedOn: Day,
  /** Who asks for it, where that is not the supplier of the goods: a carrier, say. */
  supplierId: Id.nullish(),
  lines: z.array(z.object({ lineId: Id, quantity: Typed, unit: Unit, amount: Amount })).max(500),
  charges: Charges,
  moveIds: Receipts,
})
export const NewInvoice = Invoiced.extend({ key: Key, number: Text('the invoice’s number', 60) }).refine(
  ({ lines, charges }) => lines.length + charges.length > 0,
  {
    path: ['lines'],
    message: 'Give the amount of at least one line or charge.',
  },
)
export type NewInvoice = z.infer<typeof NewInvoice>
/** An invoice whose charges are tried on the goods before it is entered. */
export const TriedInvoice = Invoiced
export type TriedInvoice = z.infer<typeof TriedInvoice>
export const ReceivedQuery = z.object({ around: OptionalDay.default(null) })
/** What a supplier gives back of what was invoiced for goods that are kept. */
export const NewCreditNote = z.object({
  key: Key,
  number: Text('the credit note’s number', 60),
  invoicedOn: Day,
  lines: Lines(z.object({ lineId: Id, amount: Amount }), 'Give the amount of at least one line.'),
})
export type NewCreditNote = z.infer<typeof NewCreditNote>
export const CancelInvoice = z.object({ key: Key })
/** Goods of a line that go back, from where they lie. */
export const NewReturn = z.object({
  key: Key,
  version: Version,
  lineId: Id,
  quantity: Typed,
  unit: Unit,
  binId: Id,
  lotId: Id.nullable(),
  pieceId: Id.nullable(),
  status: z.enum(STOCK_STATUSES),
  reason: Text('why it goes back', 120),
  reference: z.string().trim().max(60, 'Keep it to 60 characters.').default(''),
  expects: z.enum(RETURNS_EXPECT),
})
export type NewReturn = z.infer<typeof NewReturn>
export const ReturnAct = z.object({ key: Key })
/** What the supplier gives for goods that were returned. */
export const NewReturnCredit = z.object({
  key: Key,
  number: Text('the credit note’s number', 60),
  invoicedOn: Day,
  amount: Amount,
})
export type NewReturnCredit = z.infer<typeof NewReturnCredit>
export const CloseShort = z.object({ version: Version, lineId: Id, open: z.boolean().default(false) })
export const LetterParams = z.object({ id: Id, letter: Id })
/** Open orders, those that are done with, or those of one state. */
export const PurchaseQuery = Page.extend({
  status: z.enum(['', 'open', 'done', ...PURCHASE_STATES]).default(''),
  supplierId: Id.nullish(),
})
