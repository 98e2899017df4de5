import { sql, type SQL } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { bindLine } from '~~/core/structure/lines'
import type { BreakDown } from '~~/core/structure/buildable'
import type { StructureLine } from '~~/core/structure'
import { convert } from '~~/core/units/graph'
import { ONE, ratio, ZERO, type Ratio } from '~~/core/units/exact'
import { columnsWithTexts, rows, type Reader } from '~~/server/database/client'
import type { MeasuredItem } from '../catalogue/measured-items'

/** A revision with what its numbers mean in stock units of its item. */
export interface BomHead {
  readonly id: number
  readonly itemId: number
  readonly revision: number
  readonly fromOn: string | null
  readonly batch: Ratio
  readonly outputYield: Ratio
  readonly workMinutes: Ratio
  readonly minutesPerUnit: Ratio
  readonly workRate: Ratio
  readonly otherCost: Ratio
  /** The share of the cost that its by-products carry. */
  readonly byShare: Ratio
}

/** A BOM line joined with its parent; ids are text, as core has them. */
export interface BoundLine extends StructureLine {
  readonly bomId: number
  readonly position: number
}

export interface Unbound {
  readonly itemId: number
  readonly componentId: number
}

/** A way of breaking down, in stock units; `share` are the outputs' parts of the cost. */
export interface BoundBreakDown extends BreakDown {
  readonly id: number
  readonly onArrival: boolean
  readonly lossWrittenOff: boolean
  readonly loss: Ratio
  readonly outputs: readonly { readonly item: string; readonly quantity: Ratio; readonly share: Ratio }[]
}

/**
 * The revisions of `boms b` for which a condition holds, with their lines in stock units; lines of items outside
 * `frames` are left out.
 */
export async function bindBills(
  reader: Reader,
  items: ReadonlyMap<number, MeasuredItem>,
  where: SQL,
): Promise<{ heads: BomHead[]; lines: BoundLine[]; unbound: Unbound[] }> {
  const {
    numbers: [ids, itemIds, revisions],
    texts: [headTexts],
  } = (await columnsWithTexts(
    reader,
    3,
    1,
    sql`
      select
        b.id, b.item_id, b.revision,
        concat_ws(
          ' ', coalesce(b.from_on::text, '-'), b.batch_size, b.output_yield, b.work_minutes, b.minutes_per_unit,
          b.work_rate, b.other_cost,
          coalesce((select sum(p.share) from bom_by_products p where p.bom_id = b.id), 0), b.batch_unit
        )
      from boms b
      where ${where}
      order by b.id`,
  )) as { numbers: [number[], number[], number[]]; texts: [string[]] }
  const {
    numbers: [bomIds, positions, children, offsets, phantoms],
    texts: [lineTexts],
  } = (await columnsWithTexts(
    reader,
    5,
    1,
    sql`
      select
        l.bom_id, l.position, l.item_id, l.offset_days, l.phantom::int,
        concat_ws(' ', l.numerator, l.denominator, l.scrap, replace(l.basis, ' ', '-'), l.unit)
      from bom_lines l
      join boms b on b.id = l.bom_id
      where ${where}
      order by l.bom_id, l.position`,
  )) as { numbers: [number[], number[], number[], number[], number[]]; texts: [string[]] }
  const headOf = once(readHead)
  const lineOf = once(readLine)
  const lines: BoundLine[] = []
  const unbound: Unbound[] = []
  let position = 0
  const heads = ids.map((id, index): BomHead => {
    const itemId = itemIds[index]!
    const item = items.get(itemId)!
    const { fromOn, batchSize, batchUnit, outputYield, workMinutes, minutesPerUnit, workRate, otherCost, byShare } =
      headOf(headTexts[index]!)
    const batch = batchUnit === item.stockUnit ? batchSize : (asStock(item, batchSize, batchUnit) ?? ONE)
    const parent = String(itemId)
    for (; bomIds[position] === id; position++) {
      const component = items.get(children[position]!)
      if (!component) {
        continue
      }
      const line = lineOf(lineTexts[position]!)
      const isPlain = line.unit === component.stockUnit
      // Lines in the stock unit say the same few things over and over: each is worked out once.
      const said =
        (isPlain && line.known.get(batch)) ||
        bindLine(line, { graph: component.measure.graph, stockUnit: component.stockUnit }, batch)
      if (isPlain) {
        line.known.set(batch, said)
      }
      if (!said.ok) {
        unbound.push({ itemId, componentId: children[position]! })
        continue
      }
      lines.push({
        bomId: id,
        position: positions[position]!,
        parent,
        child: String(children[position]),
        per: said.value.per,
        fixed: said.value.fixed,
        scrap: line.scrap,
        outputYield,
        offsetDays: offsets[position]!,
        phantom: phantoms[position] === 1,
      })
    }
    return {
      id,
      itemId,
      revision: revisions[index]!,
      fromOn,
      batch,
      outputYield,
      workMinutes,
      minutesPerUnit,
      workRate,
      otherCost,
      byShare,
    }
  })
  return { heads, lines, unbound }
}

const asStock = (item: MeasuredItem, amount: Ratio, unit: string): Ratio | null => {
  const there = convert(item.measure.graph, amount, unit, item.stockUnit)
  return there.ok ? there.value : null
}

/** Bills say the same few texts over and over: each is read once, into the same objects. */
function once<T>(read: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>()
  return (text) => {
    const before = known.get(text)
    if (before !== undefined) {
      return before
    }
    const made = read(text)
    known.set(text, made)
    return made
  }
}

function readHead(text: string) {
  const [fromOn, batchSize, outputYield, workMinutes, minutesPerUnit, workRate, otherCost, byShare, ...unit] =
    text.split(' ')
  return {
    fromOn: fromOn === '-' ? null : fromOn!,
    batchSize: ratio(batchSize!),
    batchUnit: unit.join(' '),
    outputYield: ratio(outputYield!),
    workMinutes: ratio(workMinutes!),
    minutesPerUnit: ratio(minutesPerUnit!),
    workRate: ratio(workRate!),
    otherCost: ratio(otherCost!),
    byShare: ratio(byShare!),
  }
}

function readLine(text: string) {
  const [numerator, denominator, scrap, basis, ...unit] = text.split(' ')
  return {
    quantity: ratio(numerator!).div(ratio(denominator!)),
    unit: unit.join(' '),
    basis: basis === 'per-build' ? ('per build' as const) : ('per batch' as const),
    scrap: ratio(scrap!),
    known: new Map<Ratio, ReturnType<typeof bindLine>>(),
  }
}

/** Ways of breaking down among some items; those with a unit that leads nowhere are left out. First ways first. */
export async function bindBreakDowns(
  reader: Reader,
  items: ReadonlyMap<number, MeasuredItem>,
): Promise<BoundBreakDown[]> {
  const heads = await rows<{
    id: number
    itemId: number
    take: string
    unit: string
    onArrival: boolean
    loss: string
    lossUnit: string | null
    lossWrittenOff: boolean
  }>(
    reader,
    sql`
      select
        id, item_id as "itemId", take, unit, on_arrival as "onArrival", loss, loss_unit as "lossUnit",
        loss_written_off as "lossWrittenOff"
      from recipes
      order by rank, id`,
  )
  const outputs = groupBy(
    await rows<{
      recipeId: number
      itemId: number
      numerator: string
      denominator: string
      unit: string
      share: string
    }>(
      reader,
      sql`
        select recipe_id as "recipeId", item_id as "itemId", numerator, denominator, unit, share
        from recipe_outputs
        order by id`,
    ),
    (output) => output.recipeId,
  )
  const inStock = (id: number, amount: Ratio, unit: string): Ratio | null => {
    const item = items.get(id)
    return item ? asStock(item, amount, unit) : null
  }
  return heads.flatMap((head) => {
    const take = inStock(head.itemId, ratio(head.take), head.unit)
    const given = (outputs.get(head.id) ?? []).map((o) => ({
      item: String(o.itemId),
      quantity: inStock(o.itemId, ratio(o.numerator).div(ratio(o.denominator)), o.unit),
      share: ratio(o.share),
    }))
    if (take === null || given.some((o) => o.quantity === null)) {
      return []
    }
    return [
      {
        id: head.id,
        onArrival: head.onArrival,
        lossWrittenOff: head.lossWrittenOff,
        loss: inStock(head.itemId, ratio(head.loss), head.lossUnit ?? head.unit) ?? ZERO,
        bulk: String(head.itemId),
        take,
        outputs: given.map((o) => ({ ...o, quantity: o.quantity! })),
      },
    ]
  })
}
