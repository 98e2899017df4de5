import { sql } from 'drizzle-orm'
import { ONE, ratio, type Ratio } from '~~/core/units/exact'
import { convert } from '~~/core/units/graph'
import { printAmount } from '~~/core/units/quantity'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { loadWriting } from '~~/server/services/company/company'
import { measureOf, type UnitRow } from '~~/shared/catalogue/measure'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import { loadUnits } from '../measured-items'
import { isSame } from './is-same'
import type { Edit } from './store'

/** Something that speaks of an item in one of its units: stock, an open document or a bill. */
interface Use {
  readonly id: number
  readonly kind: 'stock' | 'document' | 'bill'
  /** The unit it is said in; null for what is there, which is said in every unit of the item. */
  readonly unit: string | null
  /** For a bill in that unit; for all else in the stock unit. Exact text. */
  readonly quantity: string
  readonly label: string
}

/** What one of a unit is in the stock unit, before and after the edit. */
interface Change {
  readonly unit: string
  readonly before: Ratio
  readonly after: Ratio
}

/**
 * What other packs and bridges would do to stock, open documents and bills: a sentence each; none where nothing uses
 * them.
 *
 * Stock and documents keep their quantity in the stock unit and are said differently; bills keep what they say and need
 * another quantity.
 */
export async function effectsOfUnits(
  tx: Tx,
  edits: readonly Edit<'items'>[],
  before: ReadonlyMap<number, Stored<'items'>>,
): Promise<string[]> {
  const rebased = edits.filter(
    ({ id, definition }) => id !== null && !isSame(definition.relations, before.get(id)!.relations),
  )
  if (rebased.length === 0) {
    return []
  }
  const units = await loadUnits(tx)
  const symbolOf = new Map(units.map((unit) => [unit.code, unit.symbol]))
  const format = await loadWriting(tx)
  const uses = await usesInUnits(
    tx,
    rebased.map((edit) => edit.id!),
  )
  const said = (amount: Ratio, unit: string): string =>
    `${printAmount(amount, 4, format)} ${symbolOf.get(unit) ?? unit}`
  return rebased.flatMap(({ id, definition }) => {
    const changes = changedUnits(units, before.get(id!)!, definition)
    return uses
      .filter((use) => use.id === id)
      .flatMap((use) =>
        changes
          .filter((change) => use.unit === null || use.unit === change.unit)
          .map((change) => `${definition.code}: ${sentence(use, change, definition.stockUnit, said)}`),
      )
  })
}

function sentence(use: Use, change: Change, stockUnit: string, said: (amount: Ratio, unit: string) => string): string {
  const quantity = ratio(use.quantity)
  if (use.kind === 'bill') {
    const now = said(quantity.mul(change.before), stockUnit)
    return `${use.label} takes ${said(quantity, change.unit)}: ${now} now, then ${said(quantity.mul(change.after), stockUnit)}.`
  }
  const now = said(quantity.div(change.before), change.unit)
  return `${said(quantity, stockUnit)} ${use.label} are ${now} now, then ${said(quantity.div(change.after), change.unit)}.`
}

/** The units that lead to the stock unit before and after, and not by the same ratio. */
function changedUnits(units: readonly UnitRow[], was: Definition<'items'>, is: Definition<'items'>): Change[] {
  const [old, fresh] = [measureOf(units, was), measureOf(units, is)]
  if (!old.ok || !fresh.ok || was.stockUnit !== is.stockUnit) {
    return []
  }
  return units.flatMap(({ code }) => {
    const before = convert(old.value.graph, ONE, code, was.stockUnit)
    const after = convert(fresh.value.graph, ONE, code, is.stockUnit)
    return before.ok && after.ok && !before.value.equals(after.value)
      ? [{ unit: code, before: before.value, after: after.value }]
      : []
  })
}

/** Where stock, open documents and bills speak of items. */
async function usesInUnits(tx: Tx, ids: readonly number[]): Promise<Use[]> {
  const isOne = anyOf(sql`x.item_id`, ids)
  const found = await rows<Use>(
    tx,
    sql`
      select x.item_id as id, 'document' as kind, x.unit, trim_scale(x.quantity)::text as quantity,
        'on ' || o.number as label
      from sales_lines x
      join sales_orders o on o.id = x.order_id
      where ${isOne} and o.status = 'open'
      union all
      select x.item_id, 'document', x.unit, trim_scale(x.quantity)::text, 'on ' || o.number
      from purchase_lines x
      join purchase_orders o on o.id = x.order_id
      where ${isOne} and o.status = 'open'
      union all
      select x.item_id, 'document', x.unit, trim_scale(x.quantity)::text, 'on ' || t.number
      from transfer_lines x
      join transfers t on t.id = x.transfer_id
      where ${isOne} and t.status = 'open'
      union all
      select x.item_id, 'document', x.unit, trim_scale(x.need)::text, 'in ' || b.number
      from build_lines x
      join builds b on b.id = x.build_id
      where ${isOne} and b.status in ('draft', 'ready', 'started')
      union all
      select x.item_id, 'bill', x.unit, x.numerator || '/' || x.denominator, 'the bill of ' || b.name
      from bom_lines x
      join boms b on b.id = x.bom_id
      where ${isOne}
      union all
      select x.item_id, 'bill', x.unit, x.numerator || '/' || x.denominator, 'the bill of ' || b.name
      from bom_by_products x
      join boms b on b.id = x.bom_id
      where ${isOne}
      union all
      select x.item_id, 'bill', x.batch_unit, trim_scale(x.batch_size)::text, 'a batch of ' || x.name
      from boms x
      where ${isOne}
      union all
      select x.item_id, 'bill', x.unit, trim_scale(x.take)::text, 'its break-down'
      from recipes x
      where ${isOne}
      union all
      select x.item_id, 'bill', x.unit, x.numerator || '/' || x.denominator, 'the break-down of ' || i.code
      from recipe_outputs x
      join recipes r on r.id = x.recipe_id
      join items i on i.id = r.item_id
      where ${isOne}`,
  )
  const there = await rows<Use>(
    tx,
    sql`
    select x.item_id as id, 'stock' as kind, x.unit, trim_scale(sum(b.on_hand))::text as quantity, 'in stock' as label
    from (
      select id as item_id, unnest(array[buying_unit, selling_unit, making_unit]) as unit from items
      union
      select item_id, unit from item_relations
      union
      select item_id, of_unit from item_relations
    ) x
    join balances b on b.item_id = x.item_id
    where ${isOne}
    group by x.item_id, x.unit
    having sum(b.on_hand) <> 0`,
  )
  return [...there, ...found]
}
