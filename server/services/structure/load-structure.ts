import { sql } from 'drizzle-orm'
import { convert, ONE, ratio, ZERO, type Ratio } from '~~/core/units'
import type { StructureLine } from '~~/core/structure'
import { rows, type Reader } from '~~/server/database/client'
import { loadFrames, type Frame } from '../catalogue/frames'

export interface BomHead { readonly id: number, readonly itemId: number, readonly batch: Ratio, readonly workMinutes: Ratio, readonly workRate: Ratio, readonly revision: number }
/** A BOM line joined with its parent; ids are text, as core has them. */
export interface BoundLine extends StructureLine { readonly bomId: number, readonly position: number }
export interface Unbound { readonly itemId: number, readonly componentId: number }

export interface LoadedStructure {
  readonly frames: ReadonlyMap<number, Frame>
  readonly boms: ReadonlyMap<number, BomHead>
  readonly lines: readonly BoundLine[]
  /** Lines whose unit has no way to the component's stock unit. */
  readonly unbound: readonly Unbound[]
}

/** All current bills of materials and kits with exact ratios in stock units. */
export async function loadStructure(reader: Reader): Promise<LoadedStructure> {
  const frames = await loadFrames(reader, 'all')
  const heads = await rows<{ id: number, itemId: number, batchSize: string, batchUnit: string, outputYield: string, workMinutes: string, workRate: string, revision: number }>(reader, sql`
    select id, item_id as "itemId", batch_size as "batchSize", batch_unit as "batchUnit", output_yield as "outputYield", work_minutes as "workMinutes", work_rate as "workRate", revision from boms where current order by id`)
  const lineRows = await rows<{ bomId: number, position: number, itemId: number, numerator: string, denominator: string, unit: string, basis: string, scrap: string }>(reader, sql`
    select l.bom_id as "bomId", l.position, l.item_id as "itemId", l.numerator, l.denominator, l.unit, l.basis, l.scrap from bom_lines l join boms b on b.id = l.bom_id and b.current order by l.bom_id, l.position`)
  const boms = new Map<number, BomHead & { outputYield: Ratio }>()
  for (const head of heads) {
    const batch = convert(frames.get(head.itemId)!.measure.graph, ratio(head.batchSize), head.batchUnit, frames.get(head.itemId)!.stockUnit)
    boms.set(head.id, { id: head.id, itemId: head.itemId, batch: batch.ok ? batch.value : ONE, workMinutes: ratio(head.workMinutes), workRate: ratio(head.workRate), outputYield: ratio(head.outputYield), revision: head.revision })
  }
  const lines: BoundLine[] = []
  const unbound: Unbound[] = []
  for (const row of lineRows) {
    const bom = boms.get(row.bomId)!
    const component = frames.get(row.itemId)!
    const quantity = convert(component.measure.graph, ratio(row.numerator).div(ratio(row.denominator)), row.unit, component.stockUnit)
    if (!quantity.ok) { unbound.push({ itemId: bom.itemId, componentId: row.itemId }); continue }
    const perBuild = row.basis === 'per build'
    lines.push({
      bomId: row.bomId, position: row.position, parent: String(bom.itemId), child: String(row.itemId), per: perBuild ? ZERO : quantity.value.div(bom.batch), fixed: perBuild ? quantity.value : ZERO,
      scrap: ratio(row.scrap), outputYield: bom.outputYield,
    })
  }
  return { frames, boms: new Map([...boms.values()].map(bom => [bom.itemId, bom])), lines, unbound }
}

/** Who is made from whom, break-downs included: what a loop is looked for in. */
export async function loadEdges(reader: Reader): Promise<{ parent: string, child: string }[]> {
  return rows(reader, sql`
    select b.item_id::text as parent, l.item_id::text as child from bom_lines l join boms b on b.id = l.bom_id and b.current union all
    select o.item_id::text, r.item_id::text from recipe_outputs o join recipes r on r.id = o.recipe_id`)
}
