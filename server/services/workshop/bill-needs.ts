import { toMinor } from '~~/core/money'
import { sql } from 'drizzle-orm'
import { buildNeeds, type Handing } from '~~/core/structure/lines'
import { nearestEven, ratio, toDecimal, toSteps, ZERO, type Ratio } from '~~/core/units/exact'
import { rows, type Reader } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import { PartStructure } from '~~/shared/structure/parts'
import type { MeasuredItem } from '../catalogue/measured-items'
import { addedBy, loadParts, partsOf } from '../structure/load-parts'
import { loadStructure } from '../structure/load-structure'
import type { BomHead } from '../structure/bind-structure'

/**
 * A component of a whole build, on a finest step, with the unit in which the bill says it and what one stock unit is
 * thought to cost, in minor units.
 */
export interface BillNeed {
  readonly itemId: number
  readonly quantity: Ratio
  readonly unit: string
  readonly planned: string
}

/** What a build of a quantity takes by a revision: phantoms as far as they are there, open kits as what is in them. */
export async function needsByBill(
  reader: Reader,
  wanted: { readonly itemId: number; readonly bomId: number; readonly quantity: Ratio },
  today: string,
): Promise<{ needs: BillNeed[]; items: ReadonlyMap<number, MeasuredItem>; head: BomHead }> {
  const loaded = await loadStructure(reader, today, { below: [wanted.itemId] }, [wanted.bomId])
  const compiled = PartStructure.of(await partsOf(reader, loaded, today))
  if (!compiled.ok) {
    throw new Refusal(
      'loop',
      `The bills of ${compiled.loop.map((id) => loaded.items.get(id)!.code).join(' → ')} run in a circle. Mend them first.`,
    )
  }
  const parts = compiled.value
  const handing = (item: string, phantom: boolean): Handing => {
    const part = parts.items.get(item)
    if (part?.source === 'kit') {
      if (part.kitPolicy === 'open') {
        return 'hand through'
      }
      if (part.kitPolicy === 'either') {
        return 'take what is there'
      }
      return 'take'
    }
    return phantom ? 'take what is there' : 'take'
  }
  const step = (item: string): Ratio => loaded.items.get(Number(item))!.measure.finestStep
  const found = buildNeeds(parts.structure, String(wanted.itemId), wanted.quantity, {
    handing,
    free: (item) => ratio(parts.items.get(item)?.free ?? '0'),
    finestStep: step,
  })
  const units = new Map(
    (
      await rows<{ itemId: number; unit: string }>(
        reader,
        sql`
          select distinct on (item_id) item_id as "itemId", unit
          from bom_lines
          where bom_id = ${wanted.bomId}
          order by item_id, position`,
      )
    ).map((row) => [row.itemId, row.unit]),
  )
  const costs = plannedCosts(parts, wanted.itemId, wanted.quantity)
  return {
    items: loaded.items,
    head: loaded.boms.get(wanted.itemId)!,
    needs: found.map(({ item, need }) => ({
      itemId: Number(item),
      quantity: toSteps(need, step(item), 'required').quantity,
      unit: units.get(Number(item)) ?? loaded.items.get(Number(item))!.stockUnit,
      planned: costs.get(Number(item)) ?? '0',
    })),
  }
}

/**
 * Minor units for one stock unit of everything below an item: what it stands at, else what making or buying it costs.
 */
function plannedCosts(parts: PartStructure, itemId: number, quantity: Ratio): Map<number, string> {
  return new Map(
    parts
      .costed(itemId, quantity, 'current')
      .rows.map((row) => [row.itemId, inMinor(parts.items.get(String(row.itemId))?.cost ?? null, row.cost.total)]),
  )
}

/** The same of one item that no bill names: a substitute. */
export async function plannedCost(reader: Reader, itemId: number, quantity: Ratio, today: string): Promise<string> {
  const parts = PartStructure.of(await loadParts(reader, today, { below: [itemId] }))
  return parts.ok
    ? inMinor(
        parts.value.items.get(String(itemId))?.cost ?? null,
        parts.value.costed(itemId, quantity, 'current').cost.total,
      )
    : '0'
}

const inMinor = (stands: string | null, otherwise: Ratio): string =>
  toDecimal(toMinor(stands === null ? otherwise : ratio(stands)), 6)

/** Money that making a quantity adds by its bill, in minor units: work and other cost, over what comes out good. */
export function workOf(head: BomHead, quantity: Ratio, minutes: Ratio | null = null): bigint {
  const { work, other: otherCost } = addedBy(head)
  return minutes === null
    ? nearestEven(toMinor(ratio(work).add(ratio(otherCost)).mul(quantity)))
    : nearestEven(toMinor(minutes.div(60).mul(head.workRate).add(ratio(otherCost).mul(quantity))))
}

/** Minutes that making a quantity takes by its bill. */
export const minutesOf = (head: BomHead, quantity: Ratio): Ratio =>
  quantity.compare(ZERO) === 0
    ? ZERO
    : head.workMinutes.div(head.batch).add(head.minutesPerUnit).div(head.outputYield).mul(quantity)
