import { sql } from 'drizzle-orm'
import { findLoop } from '~~/core/structure'
import { convert, describeUnitError } from '~~/core/units/graph'
import { ONE } from '~~/core/units/exact'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { Actor } from '~~/server/utils/route'
import type { Definition, Stored } from '~~/shared/catalogue/definitions'
import { isSame } from '../catalogue/definitions/is-same'
import type { Edit, Fault } from '../catalogue/definitions/store'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { loadEdges } from './edges'

export async function check(
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

/** A bill that is used stays as it is, and with its item. */
function checkEditable(
  bill: Definition<'bills'>,
  was: Stored<'bills'>,
  built: ReadonlySet<number>,
  report: ReportFault,
): void {
  if (was.itemId !== bill.itemId) {
    report('itemId', 'A bill stays with its item. Write another for the other item.')
  }
  if (was.fromOn === null) {
    return
  }
  const settled = (definition: Definition<'bills'>) => ({
    ...definition,
    fromOn: null,
    note: '',
    name: '',
    id: 0,
    version: 0,
  })
  if (bill.fromOn !== null && !isSame(settled(was), settled(bill))) {
    report(
      'lines',
      `Revision ${was.revision} is in use from ${was.fromOn} on, so it stays as it is. Revise it, and change the new draft.`,
    )
  }
  if (bill.fromOn === null && built.has(was.id)) {
    report('fromOn', `Revision ${was.revision} has been built from, so it is no draft any more. Revise it instead.`)
  }
}

/** Only a draft is edited; what is used has components, and an item that is made. */
function checkUse(
  bill: Definition<'bills'>,
  was: Stored<'bills'> | undefined,
  built: ReadonlySet<number>,
  items: ReadonlyMap<number, MeasuredItem>,
  report: ReportFault,
): void {
  if (was) {
    checkEditable(bill, was, built, report)
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
      await rows<{ id: number }>(tx, sql`select distinct bom_id as id from builds where ${anyOf(sql`bom_id`, ids)}`)
    ).map((row) => row.id),
  )
}
