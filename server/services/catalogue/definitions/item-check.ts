import { sql } from 'drizzle-orm'
import { readGtin } from '~~/core/codes'
import { groupBy } from '~~/core/group-by'
import { buildUnitGraph, convert, describeUnitError, type Unit, type UnitGraph } from '~~/core/units/graph'
import { ONE, ratio } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { Actor } from '~~/server/utils/route'
import { isAllowed, rolesWith } from '~~/shared/company/rights'
import { unitOf } from '~~/shared/catalogue/measure'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import { loadUnits } from '../measured-items'
import type { Edit, Fault } from './store'
import { findOffStep } from './finest-step'
import { countedItems, movedItems, unitsInUse } from './item-uses'
import { isSame } from './is-same'
import { loadKnown, checkReferences } from './item-references'

export type ReportFault = (field: string, detail: string) => void

/**
 * What must hold of items beyond their own fields: units that lead to each other, codes that name one item, what moved
 * stock fixes.
 */
export async function checkItems(
  tx: Tx,
  edits: readonly Edit<'items'>[],
  before: ReadonlyMap<number, Stored<'items'>>,
  actor: Actor,
): Promise<Fault[]> {
  const faults: Fault[] = []
  const units = new Map((await loadUnits(tx)).map((row) => [row.code, unitOf(row)]))
  const known = await loadKnown(tx, edits)
  const barcodes = await takenBarcodes(tx, edits)
  const moved = await movedItems(tx, [...before.keys()])
  const counted = await countedItems(
    tx,
    edits.flatMap(({ id, definition }) =>
      id !== null && !moved.has(id) && definition.stockUnit !== before.get(id)?.stockUnit ? [id] : [],
    ),
  )
  const written = await unitsInUse(
    tx,
    edits.flatMap(({ id, definition }) =>
      id !== null && !isSame(definition.relations, before.get(id)?.relations) ? [id] : [],
    ),
  )
  for (const [edit, { id, definition }] of edits.entries()) {
    const report: ReportFault = (field, detail) => {
      faults.push({ edit, field, detail })
    }
    checkReferences(definition, id, known, report)
    checkSellingPrices(actor, definition, before.get(id ?? 0), report)
    const graph = checkUnits(definition, units, report)
    if (graph) {
      checkPaths(definition, graph, units, written.get(id ?? 0) ?? [], report)
    }
    definition.codes.forEach((code, index) => {
      const candidate =
        code.kind === 'barcode' && barcodes.get(scanned(code.code))?.find((holder) => holder.edit !== edit)
      if (candidate) {
        report(`codes.${index}.code`, `The barcode ${code.code} is that of ${candidate.item}.`)
      }
    })
    const was = id === null ? undefined : before.get(id)
    if (was && counted.has(was.id)) {
      report(
        'stockUnit',
        'Orders, builds or forecasts count it in its stock unit, so that stays. Make a new item in the other unit.',
      )
    }
    if (was && moved.has(was.id)) {
      checkMoved(definition, was, report)
      const off = await findOffStep(tx, was.id, was.finestStep, definition.finestStep)
      if (off) {
        report(
          'finestStep',
          `${off.quantity} ${units.get(was.stockUnit)?.symbol ?? was.stockUnit} stand ${off.where}, which is no multiple of ${definition.finestStep}. A step of ${off.better} holds all that is stored.`,
        )
      }
    }
  }
  return faults
}

const SELLING_PRICES = ['price', 'lowestPrice', 'highestPrice', 'prices'] as const

/** Selling prices are set by those who sell. */
function checkSellingPrices(
  actor: Actor,
  item: Definition<'items'>,
  was: Stored<'items'> | undefined,
  report: ReportFault,
): void {
  if (isAllowed(actor, 'prices')) {
    return
  }
  for (const field of SELLING_PRICES) {
    if (!isSame(item[field], was?.[field] ?? (field === 'prices' ? [] : null))) {
      report(
        field,
        `You are signed in as ${actor.role}. To set selling prices takes one of: ${rolesWith('prices').join(', ')}.`,
      )
    }
  }
}

function checkUnits(
  item: Definition<'items'>,
  units: ReadonlyMap<string, Unit>,
  report: ReportFault,
): UnitGraph | null {
  const nameOf = (code: string): string => units.get(code)?.name ?? code
  const relations = item.relations.map((r) => ({ unit: r.unit, per: ratio(r.per), of: r.ofUnit }))
  const graph = buildUnitGraph(units, relations)
  if (graph.ok) {
    return graph.value
  }
  // The first relation that cannot join those before it is the one to tell of.
  const position = relations.findIndex((_, index) => !buildUnitGraph(units, relations.slice(0, index + 1)).ok)
  report(`relations.${position}.per`, describeUnitError(graph.error, nameOf))
  return null
}

function checkPaths(
  item: Definition<'items'>,
  graph: UnitGraph,
  units: ReadonlyMap<string, Unit>,
  inUse: readonly { unit: string; by: string }[],
  report: ReportFault,
): void {
  const nameOf = (code: string): string => units.get(code)?.name ?? code
  const wanted: [string, string | null][] = [
    ['stockUnit', item.stockUnit],
    ['buyingUnit', item.buyingUnit],
    ['sellingUnit', item.sellingUnit],
    ['makingUnit', item.makingUnit],
    ...item.terms.map((t, index): [string, string] => [`terms.${index}.unit`, t.unit]),
    ...item.prices.map((p, index): [string, string] => [`prices.${index}.unit`, p.unit]),
    ...item.codes.map((c, index): [string, string | null] => [`codes.${index}.unit`, c.unit]),
  ]
  for (const [field, unit] of wanted) {
    const path = unit === null ? null : convert(graph, ONE, unit, item.stockUnit)
    if (path && !path.ok) {
      report(field, describeUnitError(path.error, nameOf))
    }
  }
  for (const { unit, by } of inUse) {
    if (!convert(graph, ONE, unit, item.stockUnit).ok) {
      report(
        'relations',
        `${by} uses it in ${nameOf(unit)}; without this relation nothing says what that is. Keep the relation, or change it there first.`,
      )
      break
    }
  }
}

function checkMoved(item: Definition<'items'>, was: Stored<'items'>, report: ReportFault): void {
  if (item.kind !== was.kind) {
    report('kind', 'Stock of this item has moved, so it stays an item that is held.')
  }
  if (item.stockUnit !== was.stockUnit) {
    report('stockUnit', 'Stock of this item has moved, so its stock unit stays. Make a new item in the other unit.')
  }
  if (item.tracking !== was.tracking) {
    report('tracking', 'Stock of this item has moved, so its tracking stays as it is.')
  }
  if (item.costing !== was.costing) {
    report(
      'costing',
      'Stock of this item has moved. Change how it is costed in Books, where you see first what it does to values.',
    )
  }
  if (was.costing === 'standard' && item.standardCost !== was.standardCost) {
    report(
      'standardCost',
      'Stock of this item is valued at it. Change it in Books, where you see first what it does to values.',
    )
  }
}

/** A barcode as a scanner would give it: GTINs by their 14 digits, others as they are. */
export function scanned(code: string): string {
  const gtin = readGtin(code)
  return gtin.ok ? gtin.value.gtin14 : code.toLowerCase()
}

async function takenBarcodes(
  tx: Tx,
  edits: readonly Edit<'items'>[],
): Promise<Map<string, { edit: number | null; item: string }[]>> {
  const own = edits.flatMap(({ definition }, edit) =>
    definition.codes
      .filter((c) => c.kind === 'barcode')
      .map((c) => ({ edit: edit as number | null, item: definition.code, code: scanned(c.code) })),
  )
  if (own.length === 0) {
    return new Map()
  }
  // A GTIN is stored as it was typed; shorter forms of it name the same item.
  const forms = [...new Set(own.flatMap((c) => [c.code, ...[8, 12, 13].map((length) => c.code.slice(-length))]))]
  const ids = edits.flatMap((edit) => edit.id ?? [])
  const others = await rows<{ item: string; code: string }>(
    tx,
    sql`
      select i.code as item, c.code
      from item_codes c
      join items i on i.id = c.item_id
      where c.kind = 'barcode'
        and ${anyOf(sql`lower(c.code)`, forms)}
        and ${ids.length > 0 ? sql`not (${anyOf(sql`c.item_id`, ids)})` : sql`true`}`,
  )
  return groupBy(
    [...own, ...others.map((o) => ({ edit: null, item: o.item, code: scanned(o.code) }))],
    (holder) => holder.code,
  )
}
