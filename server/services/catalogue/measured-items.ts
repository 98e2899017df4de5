import { inArray, sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { itemRelations, units } from '~~/server/database/schema'
import { loadWriting, type Writing } from '~~/server/services/company/company'
import { Refusal } from '~~/server/utils/refusal'
import { describeUnitError } from '~~/core/units/graph'
import {
  exactStockQuantity,
  readStockQuantity,
  typedQuantity,
  givenText,
  type GivenQuantity,
  type ItemMeasure,
  type StockQuantity,
} from '~~/core/units/quantity'
import { ratio, toText, type Ratio } from '~~/core/units/exact'
import { groupBy } from '~~/core/group-by'
import { measureOf, type UnitRow } from '~~/shared/catalogue/measure'

/** An item with everything that reading and printing its quantities needs. */
export interface MeasuredItem {
  readonly id: number
  readonly code: string
  readonly name: string
  readonly kind: string
  readonly status: string
  readonly source: string
  readonly kitPolicy: string
  readonly tracking: string
  readonly shelfLifeDays: number | null
  readonly leadDays: number
  readonly safetyStock: string
  readonly reorderPoint: string | null
  readonly maximumStock: string | null
  readonly usualOrder: string | null
  readonly orderRule: string
  readonly coverDays: number | null
  readonly orderCost: string | null
  readonly holdingPercent: string | null
  readonly maximumOrder: string | null
  readonly pullInDays: number | null
  readonly standardCost: string | null
  readonly fromSiteId: number | null
  readonly lowestPrice: string | null
  readonly highestPrice: string | null
  readonly buyingUnit: string
  readonly sellingUnit: string
  readonly stockUnit: string
  readonly finestStep: string
  readonly measure: ItemMeasure
  readonly symbol: string
  /** How the company writes numbers and dates. */
  readonly writing: Writing
}

export async function loadUnits(reader: Reader): Promise<UnitRow[]> {
  return (await reader.select().from(units)) as UnitRow[]
}

/**
 * Frames of the items asked for, or of all.
 *
 * Errors: throws where a stored relation contradicts another; a save would have refused it.
 */
export async function loadMeasuredItems(
  reader: Reader,
  ids: readonly number[] | 'all',
): Promise<Map<number, MeasuredItem>> {
  if (ids !== 'all' && ids.length === 0) {
    return new Map()
  }
  const unitRows = await loadUnits(reader)
  const symbols = new Map(unitRows.map((unit) => [unit.code, unit.symbol]))
  const writing = await loadWriting(reader)
  const itemRows = await rows<Omit<MeasuredItem, 'measure' | 'symbol' | 'writing'>>(
    reader,
    sql`
      select
        id, code, name, kind, status, source, kit_policy as "kitPolicy", tracking,
        shelf_life_days as "shelfLifeDays", lead_days as "leadDays", safety_stock as "safetyStock",
        reorder_point as "reorderPoint", maximum_stock as "maximumStock", usual_order as "usualOrder",
        order_rule as "orderRule", cover_days as "coverDays", order_cost as "orderCost",
        holding_percent as "holdingPercent", maximum_order as "maximumOrder", pull_in_days as "pullInDays",
        standard_cost as "standardCost", from_site_id as "fromSiteId", lowest_price as "lowestPrice",
        highest_price as "highestPrice", buying_unit as "buyingUnit", selling_unit as "sellingUnit",
        stock_unit as "stockUnit", finest_step as "finestStep"
      from items
      where ${ids === 'all' ? sql`true` : sql`id = any(${sql.param([...ids])}::int[])`}`,
  )
  const relations = groupBy(
    await reader
      .select()
      .from(itemRelations)
      .where(ids === 'all' ? undefined : inArray(itemRelations.itemId, [...ids])),
    (r) => r.itemId,
  )
  return new Map(
    itemRows.map((item) => {
      const measure = measureOf(unitRows, {
        stockUnit: item.stockUnit,
        finestStep: item.finestStep,
        relations: relations.get(item.id) ?? [],
      })
      if (!measure.ok) {
        throw new Error(`${item.code}: ${describeUnitError(measure.error)}`)
      }
      return [
        item.id,
        Object.assign(item, {
          measure: measure.value,
          symbol: symbols.get(item.stockUnit) ?? item.stockUnit,
          writing,
        }),
      ]
    }),
  )
}

export async function loadMeasuredItem(reader: Reader, id: number, field = 'itemId'): Promise<MeasuredItem> {
  const item = (await loadMeasuredItems(reader, [id])).get(id)
  if (!item) {
    throw new Refusal('not-found', 'There is no such item.', { [field]: 'There is no such item.' })
  }
  return item
}

/**
 * Plans reckon in plain numbers: more steps than those hold exactly, of one line, would make every plan of the item
 * fail.
 */
const MOST_STEPS = ratio(BigInt(Number.MAX_SAFE_INTEGER) / 1000n)

/**
 * Takes a quantity of an item: reads what was typed with the company's decimal sign, an exact amount as it is. A
 * refusal stands beside its field.
 */
export function readQuantity(
  item: MeasuredItem,
  given: GivenQuantity,
  unit: string,
  field: string,
  how: 'recorded' | 'required' = 'recorded',
): StockQuantity {
  const read =
    typeof given === 'string'
      ? readStockQuantity(given, unit, item.measure, how, item.writing.decimalSign)
      : exactStockQuantity(given, unit, item.measure, how)
  if (!read.ok) {
    const detail = describeUnitError(read.error, (code) => item.measure.graph.units.get(code)?.name ?? code)
    throw new Refusal('invalid-input', `${item.code}: ${detail}`, { [field]: detail })
  }
  if (read.value.quantity.div(item.measure.finestStep).abs().compare(MOST_STEPS) > 0) {
    const detail = 'That is more than is reckoned with here. Look for a digit too many, or use a larger unit.'
    throw new Refusal('invalid-input', `${item.code}: ${detail}`, { [field]: detail })
  }
  if (toText(read.value.quantity) === '0') {
    const detail = `That is less than the finest step of ${item.code} (${item.finestStep} ${item.symbol}), so nothing would be recorded. Make the finest step finer on the item.`
    throw new Refusal('invalid-input', detail, { [field]: detail })
  }
  return read.value
}

/** Takes a quantity that may be left out: blank or nought is nothing (null). */
export function readIfGiven(
  item: MeasuredItem,
  given: GivenQuantity,
  unit: string,
  field: string,
): StockQuantity | null {
  return ['', '0'].includes(givenText(given).trim()) ? null : readQuantity(item, given, unit, field)
}

/**
 * Plain decimal text is exact, whatever the company’s decimal sign: what a number field has read already, and what
 * stands in the company’s own files. What is written otherwise is read as it was typed.
 */
export const exactIfPlain = (text: string): GivenQuantity =>
  /^\d+(\.\d+)?$/.test(text) ? ratio(text) : typedQuantity(text)

/** Refuses items that are past use. */
export function requireUsable(item: MeasuredItem, field: string, use: 'buy' | 'any'): void {
  let detail
  if (item.status === 'retired') {
    detail = `${item.code} ${item.name} is retired. Choose another item, or make it active again on its page.`
  } else if (item.status === 'no longer bought' && use === 'buy') {
    detail = `${item.code} ${item.name} is no longer bought.`
  } else {
    detail = null
  }
  if (detail !== null) {
    throw new Refusal('invalid-input', detail, { [field]: detail })
  }
}

export const asNumeric = (value: Ratio): string => {
  const text = toText(value)
  if (text.includes('/')) {
    throw new Error(`${text} is not on a decimal step`)
  }
  return text
}
