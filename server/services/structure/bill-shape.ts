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
  type Shape,
} from '../catalogue/definitions/shape'
import { columnsOf } from '../catalogue/definitions/simple-shapes'
import { loadFrames, type Frame } from '../catalogue/frames'
import { loadEdges } from './edges'

/** A revision of a bill of materials with its lines, substitutes, by-products and steps. */
export const billShape: Shape<'bills'> = {
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
  const of = (column: { getSQL(): ReturnType<typeof sql> }) => (ids === 'all' ? undefined : among(sql`${column}`, ids))
  const own = await reader.select().from(boms).where(of(boms.id)).orderBy(asc(boms.id))
  const lines = groupBy(
    await reader.select().from(bomLines).where(of(bomLines.bomId)).orderBy(asc(bomLines.position)),
    (line) => line.bomId,
  )
  const substitutes = groupBy(
    await reader
      .select()
      .from(bomSubstitutes)
      .where(of(bomSubstitutes.bomId))
      .orderBy(asc(bomSubstitutes.rank), asc(bomSubstitutes.id)),
    (one) => `${one.bomId} ${one.position}`,
  )
  const byProducts = groupBy(
    await reader.select().from(bomByProducts).where(of(bomByProducts.bomId)).orderBy(asc(bomByProducts.id)),
    (one) => one.bomId,
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
        substitutes: (substitutes.get(`${bill.id} ${position}`) ?? []).map((one) => ({
          itemId: one.itemId,
          rank: one.rank,
          per: exactText(one.numerator, one.denominator),
        })),
      }),
    ),
    byProducts: (byProducts.get(bill.id) ?? []).map((one) => ({
      itemId: one.itemId,
      quantity: exactText(one.numerator, one.denominator),
      unit: one.unit,
      sharePercent: toPercent(one.share),
    })),
    steps: bill.steps.map((step, at) => ({ ...step, position: at + 1 })),
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
        line.substitutes.map((one) => ({
          position: line.position,
          item_id: one.itemId,
          rank: one.rank,
          ...splitText(one.per),
        })),
      ),
      bom_by_products: byProducts.map((one) => ({
        item_id: one.itemId,
        ...splitText(one.quantity),
        unit: one.unit,
        share: toShare(one.sharePercent),
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
  const frames = await loadFrames(tx, [...new Set(asked)])
  const built = await builtBy(tx, [...before.keys()])
  const faults = edits.flatMap((edit, at): Fault[] => {
    const found: Fault[] = []
    const tell = (field: string, detail: string): void => {
      found.push({ edit: at, field, detail })
    }
    const was = edit.id === null ? undefined : before.get(edit.id)
    checkUse(edit.definition, was, built, frames, tell)
    checkParts(edit.definition, frames, tell)
    return found
  })
  return faults.length > 0 ? faults : checkLoops(tx, edits, actor, frames)
}

type Tell = (field: string, detail: string) => void

/** Only a draft is edited; what is used has components, and an item that is made. */
function checkUse(
  bill: Definition<'bills'>,
  was: Stored<'bills'> | undefined,
  built: ReadonlySet<number>,
  frames: ReadonlyMap<number, Frame>,
  tell: Tell,
): void {
  if (was && was.itemId !== bill.itemId) {
    tell('itemId', 'A bill stays with its item. Write another for the other item.')
  }
  const settled = (one: Definition<'bills'>) => ({ ...one, fromOn: null, note: '', name: '', id: 0, version: 0 })
  if (was && was.fromOn !== null && bill.fromOn !== null && !isSame(settled(was), settled(bill))) {
    tell(
      'lines',
      `Revision ${was.revision} is in use from ${was.fromOn} on, so it stays as it is. Revise it, and change the new draft.`,
    )
  }
  if (was && was.fromOn !== null && bill.fromOn === null && built.has(was.id)) {
    tell('fromOn', `Revision ${was.revision} has been built from, so it is no draft any more. Revise it instead.`)
  }
  if (bill.fromOn === null || was?.fromOn != null) {
    return
  }
  const item = frames.get(bill.itemId)
  if (item && item.source !== 'made' && item.source !== 'kit') {
    tell('fromOn', `${item.code} is ${item.source}. Say on the item that it is made or a kit, then use its bill.`)
  }
  const active = bill.lines.filter((line) => frames.get(line.itemId)?.status !== 'retired')
  if (active.length === 0) {
    tell('fromOn', 'It has no active component yet. Add at least one.')
  }
  bill.lines.forEach((line, at) => {
    const part = frames.get(line.itemId)
    if (part?.status === 'retired') {
      tell(`lines.${at}.itemId`, `${part.code} ${part.name} is retired. Take another before this revision is used.`)
    }
  })
}

/** Everything named is there, and every amount leads to the stock unit of its item. */
function checkParts(bill: Definition<'bills'>, frames: ReadonlyMap<number, Frame>, tell: Tell): void {
  const leads = (itemId: number, unit: string, field: string): void => {
    const frame = frames.get(itemId)
    if (!frame) {
      tell(`${field}.itemId`, 'There is no such item.')
      return
    }
    const way = convert(frame.measure.graph, ONE, unit, frame.stockUnit)
    if (!way.ok) {
      tell(
        `${field}.unit`,
        `${frame.code}: ${describeUnitError(way.error, (code) => frame.measure.graph.units.get(code)?.name ?? code)}`,
      )
    }
  }
  const own = frames.get(bill.itemId)
  if (!own) {
    tell('itemId', 'There is no such item.')
    return
  }
  if (own.kind === 'service') {
    tell('itemId', `${own.code} is a service and has no bill.`)
  }
  const batch = convert(own.measure.graph, ONE, bill.batchUnit, own.stockUnit)
  if (!batch.ok) {
    tell(
      'batchUnit',
      describeUnitError(batch.error, (code) => own.measure.graph.units.get(code)?.name ?? code),
    )
  }
  bill.lines.forEach((line, at) => {
    leads(line.itemId, line.unit, `lines.${at}`)
    line.substitutes.forEach((one, i) => {
      if (!frames.has(one.itemId)) {
        tell(`lines.${at}.substitutes.${i}.itemId`, 'There is no such item.')
      }
    })
  })
  bill.byProducts.forEach((one, at) => leads(one.itemId, one.unit, `byProducts.${at}`))
}

async function checkLoops(
  tx: Tx,
  edits: readonly Edit<'bills'>[],
  actor: Actor,
  known: ReadonlyMap<number, Frame>,
): Promise<Fault[]> {
  const added = edits.flatMap(({ definition }, edit) =>
    definition.lines.map((line, at) => ({ parent: String(definition.itemId), child: String(line.itemId), edit, at })),
  )
  return loopFaults(
    tx,
    added,
    await loadEdges(tx, actor.today, {
      below: [...new Set(added.map((edge) => Number(edge.child)))],
      besides: edits.flatMap((edit) => edit.id ?? []),
    }),
    known,
    (at) => `lines.${at}.itemId`,
  )
}

/** The loop that edges would close, told at the edge of it that is new. */
export async function loopFaults(
  tx: Tx,
  added: readonly { parent: string; child: string; edit: number; at: number }[],
  there: readonly { parent: string; child: string }[],
  known: ReadonlyMap<number, Frame>,
  field: (at: number) => string,
): Promise<Fault[]> {
  const loop = findLoop([...added, ...there])
  if (!loop) {
    return []
  }
  const frames = new Map([
    ...known,
    ...(await loadFrames(
      tx,
      loop.map(Number).filter((id) => !known.has(id)),
    )),
  ])
  const path = loop.map((id) => frames.get(Number(id))!.code).join(' → ')
  const edge = added.find((one) => loop.some((id, at) => id === one.parent && loop[at + 1] === one.child)) ?? added[0]!
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
