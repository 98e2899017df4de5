import { z } from 'zod'
import { Day, Id, Key, Note, OptionalDay, Page, Text, Typed, Version } from './primitives'

const unit = z.string('Choose a unit.').min(1, 'Choose a unit.')

export const DEMAND_RULES = ['larger', 'both', 'orders only', 'forecast only'] as const

export const SalesLineEdit = z.object({ id: Id.nullable().default(null), itemId: Id, quantity: Typed, unit, price: z.string().trim().regex(/^\d+(\.\d{1,6})?$/, 'Write a price such as 12.50.').default('0') })
export const NewSalesOrder = z.object({ key: Key, customerId: Id, dueOn: Day, note: Note, lines: z.array(SalesLineEdit).min(1, 'Add at least one line.') })
export const ChangedSalesOrder = NewSalesOrder.omit({ key: true, customerId: true }).extend({ version: Version })
export const OrderQuery = Page.extend({ status: z.string().default('') })

export const ForecastCell = z.object({ itemId: Id, startsOn: Day, quantity: Typed })
export const NewForecast = z.object({ name: Text('a name'), firstOn: Day, weeks: z.coerce.number('Give weeks.').int().min(1, 'At least one week.').max(104, 'Two years at most.') })

export const NewPlan = z.object({
  name: Text('a name', 80), kind: z.enum(['trial', 'working']), endsOn: Day, demandRule: z.enum(DEMAND_RULES).default('larger'), forecastId: Id.nullable().default(null),
})
export const Release = z.object({ key: Key, orders: z.array(Id).min(1, 'Choose at least one planned order.') })

export const Receive = z.object({
  key: Key, version: Version, packingList: z.string().trim().max(80).default(''),
  lines: z.array(z.object({ lineId: Id, quantity: Typed, unit, binId: Id, lot: z.string().trim().max(60).default(''), expiresOn: OptionalDay.default(null) })).min(1, 'Give at least one line.'),
})
export const CloseShort = z.object({ version: Version, lineId: Id })
export const NewPurchaseOrder = z.object({ key: Key, supplierId: Id, dueOn: Day, note: Note, lines: z.array(z.object({ itemId: Id, quantity: Typed, unit, price: z.string().trim().regex(/^\d+(\.\d{1,6})?$/, 'Write a price such as 12.50.') })).min(1, 'Add at least one line.') })

export const NewBuild = z.object({ key: Key, itemId: Id, quantity: Typed, unit, dueOn: Day })
export const CompleteBuild = z.object({ key: Key, version: Version, binId: Id, lot: z.string().trim().max(60).default(''), expiresOn: OptionalDay.default(null) })
export const NewBreakDown = z.object({ key: Key, itemId: Id, times: Typed, dueOn: Day })
export const CompleteBreakDown = z.object({ key: Key, version: Version, binId: Id })

export const REASONS = ['damage', 'miscount', 'sample', 'theft', 'expired', 'found', 'opening stock'] as const
export const Correction = z.object({
  key: Key, itemId: Id, binId: Id, lot: z.string().trim().max(60).default(''), direction: z.enum(['more', 'less'], 'Say whether it is more or less.'), quantity: Typed, unit,
  reason: z.enum(REASONS, 'Choose a reason.'), unitCost: z.string().trim().regex(/^(\d+(\.\d{1,6})?)?$/, 'Write a cost such as 12.50, or leave it empty.').default(''), expiresOn: OptionalDay.default(null),
})
export const MoveStock = z.object({ key: Key, itemId: Id, fromBinId: Id, toBinId: Id, lot: z.string().trim().max(60).default(''), quantity: Typed, unit })
export const Reverse = z.object({ key: Key })
export const StockQuery = Page.extend({ item: z.coerce.number().int().optional(), bin: z.coerce.number().int().optional() })
export const Allocate = z.object({ key: Key, version: Version })
export const Ship = Allocate
