import { asc, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { findLoop } from '~~/core/structure'
import { convert, describeUnitError, ONE, ratio, toText } from '~~/core/units'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { bomByProducts, bomLines, boms, bomSubstitutes } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import type { Definition, Stored } from '~~/shared/definitions'
import { isSame } from '../catalogue/definitions/save'
import {
  among,
  exactText,
  splitText,
  type Edit,
  type Fault,
  type Row,
  type DefinitionStore,
} from '../catalogue/definitions/store'
import { columnsOf } from '../catalogue/definitions/simple-stores'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { loadEdges } from './edges'

/** A revision of a bill of materials with its lines, substitutes, by-products and steps. */
export const billStore: DefinitionStore<'bills'> = {
  kind: 'bills',
  table: 'boms',
  key: 'name',
  keyField: 'revision',
  lists: { bom_lines: 'bom_id', bom_substitutes: 'bom_id', bom_by_products: 'bom_id' },
  load: loadBills,
  rowsOf,
  complete,
  check,
}

const toPercent = (share: string): string => toText(ratio(share).mul(100))
const toShare = (percent: string): string => toText(ratio(percent).div(100))

export async function loadBills(reader: Reader, ids: readonly number[] | 'all'): Promise<Stored<'bills'>[]> {
  const isAmong = (column: { getSQL(): ReturnType<typeof sql> }) =>
    ids === 'all' ? undefined : among(sql`${column}`, ids)
  const own = await reader.select().from(boms).where(isAmong(boms.id)).orderBy(asc(boms.id))
  const lines = groupBy(
    await reader.select().from(bomLines).where(isAmong(bomLines.bomId)).orderBy(asc(bomLines.position)),
    (line) => line.bomId,
  )
  const substitutes = groupBy(
    await reader
      .select()
      .from(bomSubstitutes)
      .where(isAmong(bomSubstitutes.bomId))
      .orderBy(asc(bomSubstitutes.rank), asc(bomSubstitutes.id)),
    (entry) => `${entry.bomId} ${entry.position}`,
  )
  const byProducts = groupBy(
    await reader.select().from(bomByProducts).where(isAmong(bomByProducts.bomId)).orderBy(asc(bomByProducts.id)),
    (entry) => entry.bomId,
  )
  return own.map(({ outputYield, ...bill }) => ({
    ...bill,
    yieldPercent: toPercent(outputYield),
    lines: (lines.get(bill.id) ?? []).map(
      ({ position, itemId, numerator, denominator, unit, basis, scrap, offsetDays, phantom, note }) => ({
        position,
        itemId,
        quantity: exactText(numerator, denominator),
        unit,
        basis: basis as 'per batch' | 'per build',
        scrapPercent: toPercent(scrap),
        offsetDays,
        phantom,
        note,
        substitutes: (substitutes.get(`${bill.id} ${position}`) ?? []).map((entry) => ({
          itemId: entry.itemId,
          rank: entry.rank,
          per: exactText(entry.numerator, entry.denominator),
        })),
      }),
    ),
    byProducts: (byProducts.get(bill.id) ?? []).map((entry) => ({
      itemId: entry.itemId,
      quantity: exactText(entry.numerator, entry.denominator),
      unit: entry.unit,
      sharePercent: toPercent(entry.share),
    })),
    steps: bill.steps.map((step, index) => ({ ...step, position: index + 1 })),
  }))
}

function rowsOf({ lines, byProducts, yieldPercent, ...own }: Definition<'bills'>): {
  own: Row
  lists: Record<string, Row[]>
} {
  return {
    own: { ...columnsOf(own), output_yield: toShare(yieldPercent) },
    lists: {
      bom_lines: lines.map(({ quantity, scrapPercent, substitutes, ...line }) => {
        void substitutes
        return { ...columnsOf(line), ...splitText(quantity), scrap: toShare(scrapPercent) }
      }),
      bom_substitutes: lines.flatMap((line) =>
        line.substitutes.map((substitute) => ({
          position: line.position,
          item_id: substitute.itemId,
          rank: substitute.rank,
          ...splitText(substitute.per),
        })),
      ),
      bom_by_products: byProducts.map((byProduct) => ({
        item_id: byProduct.itemId,
        ...splitText(byProduct.quantity),
        unit: byProduct.unit,
        share: toShare(byProduct.sharePercent),
      })),
    },
  }
}

/** Names a bill by its item's code and its revision; a new one gets the next number. */
async function complete(tx: Tx, edits: readonly Edit<'bills'>[]): Promise<Edit<'bills'>[]> {
  const ids = [...new Set(edits.map((edit) => edit.definition.itemId))]
  if (ids.length === 0) {
    return []
  }
  const known = new Map(
    (
      await rows<{ id: number; code: string; last: number }>(
        tx,
        sql`
          select i.id, i.code, coalesce(max(b.revision), 0) as last
          from items i
          left join boms b on b.item_id = i.id
          where ${among(sql`i.id`, ids)}
          group by i.id`,
      )
    ).map((row) => [row.id, row]),
  )
  const given = groupBy(edits, (edit) => edit.definition.itemId)
  const last = new Map(
    [...known].map(([id, row]) => [
      id,
      Math.max(row.last, ...(given.get(id) ?? []).map((edit) => edit.definition.revision)),
    ]),
  )
  return edits.map((edit) => {
    const { itemId } = edit.definition
    const revision = edit.definition.revision || (last.get(itemId) ?? 0) + 1
    last.set(itemId, Math.max(last.get(itemId) ?? 0, revision))
    return {
      ...edit,
      definition: { ...edit.definition, revision, name: `${known.get(itemId)?.code ?? itemId} revision ${revision}` },
    }
  })
}

async function check(
  tx: Tx,
  edits: readonly Edit<'bills'>[],
  before: ReadonlyMap<number, Stored<'bills'>>,
  actor: Actor,
): Promise<Fault[]> {
  const asked = edits.flatMap(({ definition: d }) => [
    d.itemId,
    ...d.lines.flatMap((l) => [l.itemId, ...l.substitutes.map((s) => s.itemId)]),
    ...d.byProducts.map((b) => b.itemId),
  ])
  const items = await loadMeasuredItems(tx, [...new Set(asked)])
  const built = await builtBy(tx, [...before.keys()])
  const faults = edits.flatMap((edit, index): Fault[] => {
    const found: Fault[] = []
    const report = (field: string, detail: string): void => {
      found.push({ edit: index, field, detail })
    }
    const was = edit.id === null ? undefined : before.get(edit.id)
    checkUse(edit.definition, was, built, items, report)
    checkParts(edit.definition, items, report)
    return found
  })
  return faults.length > 0 ? faults : checkLoops(tx, edits, actor, items)
}

type ReportFault = (field: string, detail: string) => void

/** Only a draft is edited; what is used has components, and an item that is made. */
function checkUse(
  bill: Definition<'bills'>,
  was: Stored<'bills'> | undefined,
  built: ReadonlySet<number>,
  items: ReadonlyMap<number, MeasuredItem>,
  report: ReportFault,
): void {
  if (was && was.itemId !== bill.itemId) {
    report('itemId', 'A bill stays with its item. Write another for the other item.')
  }
  const settled = (definition: Definition<'bills'>) => ({
    ...definition,
    fromOn: null,
    note: '',
    name: '',
    id: 0,
    version: 0,
  })
  if (was && was.fromOn !== null && bill.fromOn !== null && !isSame(settled(was), settled(bill))) {
    report(
      'lines',
      `Revision ${was.revision} is in use from ${was.fromOn} on, so it stays as it is. Revise it, and change the new draft.`,
    )
  }
  if (was && was.fromOn !== null && bill.fromOn === null && built.has(was.id)) {
    report('fromOn', `Revision ${was.revision} has been built from, so it is no draft any more. Revise it instead.`)
  }
  if (bill.fromOn === null || was?.fromOn != null) {
    return
  }
  const item = items.get(bill.itemId)
  if (item && item.source !== 'made' && item.source !== 'kit') {
    report('fromOn', `${item.code} is ${item.source}. Say on the item that it is made or a kit, then use its bill.`)
  }
  const active = bill.lines.filter((line) => items.get(line.itemId)?.status !== 'retired')
  if (active.length === 0) {
    report('fromOn', 'It has no active component yet. Add at least one.')
  }
  bill.lines.forEach((line, index) => {
    const part = items.get(line.itemId)
    if (part?.status === 'retired') {
      report(
        `lines.${index}.itemId`,
        `${part.code} ${part.name} is retired. Take another before this revision is used.`,
      )
    }
  })
}

/** Everything named is there, and every amount leads to the stock unit of its item. */
function checkParts(bill: Definition<'bills'>, items: ReadonlyMap<number, MeasuredItem>, report: ReportFault): void {
  const leads = (itemId: number, unit: string, field: string): void => {
    const item = items.get(itemId)
    if (!item) {
      report(`${field}.itemId`, 'There is no such item.')
      return
    }
    const recipe = convert(item.measure.graph, ONE, unit, item.stockUnit)
    if (!recipe.ok) {
      report(
        `${field}.unit`,
        `${item.code}: ${describeUnitError(recipe.error, (code) => item.measure.graph.units.get(code)?.name ?? code)}`,
      )
    }
  }
  const own = items.get(bill.itemId)
  if (!own) {
    report('itemId', 'There is no such item.')
    return
  }
  if (own.kind === 'service') {
    report('itemId', `${own.code} is a service and has no bill.`)
  }
  const batch = convert(own.measure.graph, ONE, bill.batchUnit, own.stockUnit)
  if (!batch.ok) {
    report(
      'batchUnit',
      describeUnitError(batch.error, (code) => own.measure.graph.units.get(code)?.name ?? code),
    )
  }
  bill.lines.forEach((line, index) => {
    leads(line.itemId, line.unit, `lines.${index}`)
    line.substitutes.forEach((substitute, i) => {
      if (!items.has(substitute.itemId)) {
        report(`lines.${index}.substitutes.${i}.itemId`, 'There is no such item.')
      }
    })
  })
  bill.byProducts.forEach((byProduct, index) => leads(byProduct.itemId, byProduct.unit, `byProducts.${index}`))
}

async function checkLoops(
  tx: Tx,
  edits: readonly Edit<'bills'>[],
  actor: Actor,
  known: ReadonlyMap<number, MeasuredItem>,
): Promise<Fault[]> {
  const added = edits.flatMap(({ definition }, edit) =>
    definition.lines.map((line, index) => ({
      parent: String(definition.itemId),
      child: String(line.itemId),
      edit,
      at: index,
    })),
  )
  return loopFaults(
    tx,
    added,
    await loadEdges(tx, actor.today, {
      below: [...new Set(added.map((edge) => Number(edge.child)))],
      besides: edits.flatMap((edit) => edit.id ?? []),
    }),
    known,
    (index) => `lines.${index}.itemId`,
  )
}

/** The loop that edges would close, told at the edge of it that is new. */
export async function loopFaults(
  tx: Tx,
  added: readonly { parent: string; child: string; edit: number; at: number }[],
  there: readonly { parent: string; child: string }[],
  known: ReadonlyMap<number, MeasuredItem>,
  field: (index: number) => string,
): Promise<Fault[]> {
  const loop = findLoop([...added, ...there])
  if (!loop) {
    return []
  }
  const items = new Map([
    ...known,
    ...(await loadMeasuredItems(
      tx,
      loop.map(Number).filter((id) => !known.has(id)),
    )),
  ])
  const path = loop.map((id) => items.get(Number(id))!.code).join(' → ')
  const edge =
    added.find((entry) => loop.some((id, index) => id === entry.parent && loop[index + 1] === entry.child)) ?? added[0]!
  return [
    {
      edit: edge.edit,
      field: field(edge.at),
      detail: `This would run in a circle: ${path}. An item cannot contain itself.`,
    },
  ]
}

async function builtBy(tx: Tx, ids: readonly number[]): Promise<Set<number>> {
  if (ids.length === 0) {
    return new Set()
  }
  return new Set(
    (
      await rows<{ id: number }>(tx, sql`select distinct bom_id as id from builds where ${among(sql`bom_id`, ids)}`)
    ).map((row) => row.id),
  )
}
