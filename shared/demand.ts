import { z } from 'zod'
import { Day, Id, Key, Note, Page, Price, Text, Typed, Unit, Version } from './primitives'

export const SalesLineEdit = z.object({ id: Id.nullable().default(null), itemId: Id, quantity: Typed, unit: Unit, price: Price.default('0') })
export const SalesOrderEdit = z.object({ dueOn: Day, note: Note, lines: z.array(SalesLineEdit).min(1, 'Add at least one line.') })
export type SalesOrderEdit = z.infer<typeof SalesOrderEdit>
export const NewSalesOrder = SalesOrderEdit.extend({ key: Key, customerId: Id })
export const ChangedSalesOrder = SalesOrderEdit.extend({ version: Version })
export const OrderQuery = Page.extend({ status: z.enum(['', 'open', 'done']).default('') })

/** An empty quantity takes the cell out of the forecast. */
export const ForecastEdit = z.object({ version: Version, cells: z.array(z.object({ itemId: Id, startsOn: Day, quantity: z.string('Type a quantity.').trim() })).max(5000) })
export const NewForecast = z.object({ name: Text('a name'), firstOn: Day, weeks: z.coerce.number('Give weeks.').int('Give whole weeks.').min(1, 'At least one week.').max(104, 'Two years at most.') })
