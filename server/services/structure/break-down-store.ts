import { asc, sql } from 'drizzle-orm'
import { groupBy } from '~~/core/group-by'
import { convert, describeUnitError } from '~~/core/units/graph'
import { ONE } from '~~/core/units/exact'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { recipeOutputs, recipes } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import type { Stored } from '~~/shared/catalogue/definitions'
import { exactText, splitText, type Edit, type Fault, type DefinitionStore } from '../catalogue/definitions/store'
import { columnsOf } from '../catalogue/definitions/simple-stores'
import { loadMeasuredItems, type MeasuredItem } from '../catalogue/measured-items'
import { loopFaults } from './bill-check'
import { loadEdges } from './edges'

/** One way in which a bulk item breaks down, with all that it gives. */
export const breakDownStore: DefinitionStore<'break-downs'> = {
  kind: 'break-downs',
  table: 'recipes',
  key: 'name',
  keyField: 'rank',
  lists: { recipe_outputs: 'recipe_id' },
  load,
  complete,
  check,
  rowsOf: ({ outputs, ...own }) => ({
    own: columnsOf(own),
    lists: {
      recipe_outputs: outputs.map((output) => ({
        item_id: output.itemId,
        ...splitText(output.quantity),
        unit: output.unit,
        share: output.share,
      })),
    },
  }),
}

async function load(reader: Reader, ids: readonly number[] | 'all'): Promise<Stored<'break-downs'>[]> {
  const own = await reader
    .select()
    .from(recipes)
    .where(ids === 'all' ? undefined : anyOf(sql`${recipes.id}`, ids))
    .orderBy(asc(recipes.id))
  const outputs = groupBy(
    await reader
      .select()
      .from(recipeOutputs)
      .where(ids === 'all' ? undefined : anyOf(sql`${recipeOutputs.recipeId}`, ids))
      .orderBy(asc(recipeOutputs.id)),
    (entry) => entry.recipeId,
  )
  return own.map((recipe) => ({
    ...recipe,
    outputs: (outputs.get(recipe.id) ?? []).map((entry) => ({
      itemId: entry.itemId,
      quantity: exactText(entry.numerator, entry.denominator),
      unit: entry.unit,
      share: entry.share,
    })),
  }))
}

/** Named by its bulk item and its rank among the ways in which that breaks down. */
async function complete(tx: Tx, edits: readonly Edit<'break-downs'>[]): Promise<Edit<'break-downs'>[]> {
  const ids = [...new Set(edits.map((edit) => edit.definition.itemId))]
  if (ids.length === 0) {
    return []
  }
  const codes = new Map(
    (await rows<{ id: number; code: string }>(tx, sql`select id, code from items where ${anyOf(sql`id`, ids)}`)).map(
      (row) => [row.id, row.code],
    ),
  )
  return edits.map((edit) => ({
    ...edit,
    definition: {
      ...edit.definition,
      name: `${codes.get(edit.definition.itemId) ?? edit.definition.itemId} break-down ${edit.definition.rank}`,
    },
  }))
}

async function check(
  tx: Tx,
  edits: readonly Edit<'break-downs'>[],
  _before: ReadonlyMap<number, Stored<'break-downs'>>,
  actor: Actor,
): Promise<Fault[]> {
  const items = await loadMeasuredItems(tx, [
    ...new Set(edits.flatMap(({ definition: d }) => [d.itemId, ...d.outputs.map((o) => o.itemId)])),
  ])
  const faults = edits.flatMap(({ definition }, edit) => {
    const found: Fault[] = []
    const report = (field: string, detail: string): void => {
      found.push({ edit, field, detail })
    }
    const leads = (item: MeasuredItem, unit: string, field: string): void => {
      const recipe = convert(item.measure.graph, ONE, unit, item.stockUnit)
      if (!recipe.ok) {
        report(
          field,
          `${item.code}: ${describeUnitError(recipe.error, (code) => item.measure.graph.units.get(code)?.name ?? code)}`,
        )
      }
    }
    const bulk = items.get(definition.itemId)
    if (!bulk) {
      report('itemId', 'There is no such item.')
      return found
    }
    leads(bulk, definition.unit, 'unit')
    if (definition.lossUnit !== null) {
      leads(bulk, definition.lossUnit, 'lossUnit')
    }
    definition.outputs.forEach((output, index) => {
      const item = items.get(output.itemId)
      if (!item) {
        report(`outputs.${index}.itemId`, 'There is no such item.')
      } else if (item.source !== 'broken down') {
        report(
          `outputs.${index}.itemId`,
          `${item.code} is ${item.source}. Say on the item that it is broken down from another, then choose it here.`,
        )
      } else {
        leads(item, output.unit, `outputs.${index}.unit`)
      }
    })
    return found
  })
  if (faults.length > 0) {
    return faults
  }
  const added = edits.flatMap(({ definition }, edit) =>
    definition.outputs.map((output, index) => ({
      parent: String(output.itemId),
      child: String(definition.itemId),
      edit,
      at: index,
    })),
  )
  return loopFaults(
    tx,
    added,
    await loadEdges(tx, actor.today, {
      below: edits.map((edit) => edit.definition.itemId),
      recipesBesides: edits.flatMap((edit) => edit.id ?? []),
    }),
    items,
    (index) => `outputs.${index}.itemId`,
  )
}
