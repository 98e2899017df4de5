import { sql } from 'drizzle-orm'
import { compileStructure, explode, rollUp, whereUsed, type Structure } from '~~/core/structure'
import { convert, ONE, ratio, toDecimal, toText, ZERO, type Ratio } from '~~/core/units'
import { db, rows } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { loadFrame, readQuantity, type Frame } from '../catalogue/frames'
import { loadStructure, type LoadedStructure } from './load-structure'

export interface TowerRow { itemId: number, code: string, name: string, source: string, level: number, parents: number[], quantity: string, symbol: string, decimals: number, free: string, isShort: boolean, cost: string }

/** Everything below an item for a quantity of it, with what is free and what it costs now. Costs in major units of the currency. */
export async function explodeItem(itemId: number, typed: string, unit: string): Promise<{ quantity: string, symbol: string, cost: string, rows: TowerRow[] }> {
  const root = await loadFrame(db, itemId)
  const { exact } = readQuantity(root, typed, unit || root.stockUnit, 'quantity', 'required')
  const loaded = await loadStructure(db)
  const structure = compiled(loaded.lines)
  const costs = await costsOf(loaded, structure)
  const free = await freeOf()
  return {
    quantity: toText(exact), symbol: root.symbol, cost: toDecimal((costs.get(String(itemId)) ?? ZERO).mul(exact), 2),
    rows: explode(structure, String(itemId), exact).map((row) => {
      const frame = loaded.frames.get(Number(row.item))!
      const here = free.get(frame.id) ?? '0'
      return {
        itemId: frame.id, code: frame.code, name: frame.name, source: frame.source, level: row.level, parents: (structure.parents.get(row.item) ?? []).map(line => Number(line.parent)),
        quantity: toText(row.quantity), symbol: frame.symbol, decimals: decimalsOf(frame), free: here, isShort: ratio(here).compare(row.quantity) < 0, cost: toDecimal((costs.get(row.item) ?? ZERO).mul(row.quantity), 2),
      }
    }),
  }
}

export interface WhereUsedRow { itemId: number, code: string, name: string, level: number, quantity: string, symbol: string, parentSymbol: string }

/** Every item that contains this one, nearest first. */
export async function whereUsedOf(itemId: number): Promise<WhereUsedRow[]> {
  const own = await loadFrame(db, itemId)
  const { frames, lines } = await loadStructure(db)
  const structure = compiled(lines)
  if (!structure.order.includes(String(itemId))) return []
  return whereUsed(structure, String(itemId)).map((row) => {
    const frame = frames.get(Number(row.item))!
    return { itemId: frame.id, code: frame.code, name: frame.name, level: row.level, quantity: toText(row.quantity), symbol: own.symbol, parentSymbol: frame.symbol }
  })
}

export function compiled(lines: LoadedStructure['lines']): Structure {
  const structure = compileStructure(lines)
  if (!structure.ok) throw new Refusal('loop', `The bills run in a circle through ${structure.error.path.length - 1} items.`)
  return structure.value
}

/** Money per stock unit: made items from their parts; others at their average, else at the supplier's price, else as a share of their bulk item. */
async function costsOf({ frames, boms }: LoadedStructure, structure: Structure): Promise<ReadonlyMap<string, Ratio>> {
  const held = await rows<{ itemId: number, quantity: string, value: string }>(db, sql`select item_id as "itemId", sum(quantity) as quantity, sum(value)::text as value from holdings where quantity > 0 group by 1`)
  const terms = await rows<{ itemId: number, unit: string, price: string }>(db, sql`select distinct on (t.item_id) t.item_id as "itemId", t.unit, trim_scale(t.price * coalesce((select r.rate from exchange_rates r where r.currency_id = s.currency_id order by r.from_on desc limit 1), 1))::text as price from supplier_terms t join suppliers s on s.id = t.supplier_id order by t.item_id, t.rank`)
  const parts = await rows<{ itemId: number, bulkId: number, take: string, unit: string, quantity: string, outUnit: string }>(db, sql`
    select o.item_id as "itemId", r.item_id as "bulkId", r.take, r.unit, o.quantity, o.unit as "outUnit" from recipe_outputs o join recipes r on r.id = o.recipe_id`)
  const average = new Map(held.map(h => [h.itemId, ratio(h.value).div(100).div(ratio(h.quantity))]))
  const inStock = (frame: Frame, amount: string, unit: string): Ratio => { const c = convert(frame.measure.graph, ratio(amount), unit, frame.stockUnit); return c.ok ? c.value : ONE }
  const price = new Map(terms.map(t => [t.itemId, ratio(t.price).div(inStock(frames.get(t.itemId)!, '1', t.unit))]))
  const bought = (id: number): Ratio => average.get(id) ?? price.get(id) ?? ZERO
  const costOf = (item: string): Ratio => {
    const known = bought(Number(item))
    const part = parts.find(p => p.itemId === Number(item))
    if (!known.equals(ZERO) || !part) return known
    return bought(part.bulkId).mul(inStock(frames.get(part.bulkId)!, part.take, part.unit)).div(inStock(frames.get(part.itemId)!, part.quantity, part.outUnit))
  }
  const workOf = (item: string): Ratio => { const bom = boms.get(Number(item)); return bom ? bom.workMinutes.mul(bom.workRate).div(60).div(bom.batch) : ZERO }
  return rollUp(structure, costOf, workOf)
}

async function freeOf(): Promise<Map<number, string>> {
  const found = await rows<{ itemId: number, free: string }>(db, sql`select item_id as "itemId", sum(on_hand - allocated) as free from balances where status = 'available' group by 1`)
  return new Map(found.map(f => [f.itemId, f.free]))
}

const decimalsOf = (frame: Frame): number => frame.measure.graph.units.get(frame.stockUnit)?.decimals ?? 2
