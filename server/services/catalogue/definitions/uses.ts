import { sql } from 'drizzle-orm'
import { rows, type Reader } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'

/** In words, what a row of a table is. */
const WORDS: Readonly<Record<string, string>> = {
  items: 'items',
  item_groups: 'groups',
  item_relations: 'packs and bridges',
  item_codes: 'codes',
  item_prices: 'prices',
  item_marks: 'stock marks',
  item_substitutes: 'substitutes',
  supplier_terms: 'suppliers’ terms',
  boms: 'bills of materials',
  bom_lines: 'bills of materials',
  recipes: 'break-downs',
  recipe_outputs: 'break-downs',
  bom_substitutes: 'bills of materials',
  bom_by_products: 'bills of materials',
  moves: 'the stock ledger',
  balances: 'stock',
  holdings: 'stock',
  lots: 'lots',
  sales_orders: 'sales orders',
  sales_lines: 'sales orders',
  purchase_orders: 'purchase orders',
  purchase_lines: 'purchase orders',
  builds: 'builds',
  build_lines: 'builds',
  cutting_jobs: 'cutting jobs',
  break_downs: 'break-downs',
  planned_orders: 'plans',
  allocations: 'allocations',
  forecast_cells: 'forecasts',
  forecast_items: 'forecasts',
  past_sales: 'sales history',
  history_corrections: 'sales history',
  history_borrowings: 'sales history',
  packing_lists: 'goods receipts',
  buying_wants: 'the buying list',
  inspection_plans: 'inspection plans',
  inspections: 'inspections',
  inspection_goods: 'inspections',
  places: 'bins',
  sites: 'sites',
  suppliers: 'suppliers',
  customers: 'customers',
  company: 'the company’s settings',
}

/**
 * What refers to rows of a table, by the database's own foreign keys; what goes with a row when it goes does not count,
 * nor do these rows among themselves.
 */
export async function usesOf(
  reader: Reader,
  table: string,
  ids: readonly number[],
): Promise<{ id: number; by: string }[]> {
  if (ids.length === 0) {
    return []
  }
  const references = await rows<{ table: string; column: string; key: string }>(
    reader,
    sql`
      select c.conrelid::regclass::text as table, a.attname as column, k.attname as key
      from pg_constraint c
      join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
      join pg_attribute k on k.attrelid = c.confrelid and k.attnum = c.confkey[1]
      where c.contype = 'f' and c.confrelid = ${table}::regclass and c.confdeltype <> 'c'
      order by 1`,
  )
  const found: { id: number; by: string }[] = []
  for (const { table: by, column, key } of references) {
    const holders = await rows<{ id: number }>(
      reader,
      sql`
        select t.id
        from ${sql.identifier(table)} t
        where ${anyOf(sql`t.id`, ids)}
          and exists (
            select 1
            from ${sql.identifier(by)} u
            where u.${sql.identifier(column)} = t.${sql.identifier(key)}
              and ${by === table ? sql`not (${anyOf(sql`u.id`, ids)})` : sql`true`}
          )`,
    )
    found.push(...holders.map(({ id }) => ({ id, by: WORDS[by] ?? by })))
  }
  return found
}
