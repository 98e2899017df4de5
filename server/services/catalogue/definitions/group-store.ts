import { plural } from '~~/core/plural'
import { asc, sql } from 'drizzle-orm'
import { nextCode } from '~~/core/codes'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf, GROUP_ANCESTORS, groupsBelow } from '~~/server/database/sql'
import { itemGroups } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import type { Stored } from '~~/shared/catalogue/definitions'
import { loadUnits } from '../measured-items'
import { loadGroupDefaults } from './inherit'
import { itemStore, loadItems } from './item-store'
import { saveAll } from './save'
import type { Edit, Fault, DefinitionStore } from './store'
import { columnsOf } from './simple-stores'

export const groupStore: DefinitionStore<'groups'> = {
  kind: 'groups',
  table: 'item_groups',
  key: 'code',
  lists: {},
  load: async (reader, ids) =>
    (await reader
      .select()
      .from(itemGroups)
      .where(ids === 'all' ? undefined : anyOf(sql`${itemGroups.id}`, ids))
      .orderBy(asc(itemGroups.name))) as Stored<'groups'>[],
  rowsOf: (definition) => ({ own: columnsOf(definition), lists: {} }),
  check: checkGroups,
  after: handDown,
}

async function checkGroups(tx: Tx, edits: readonly Edit<'groups'>[]): Promise<Fault[]> {
  const units = new Set((await loadUnits(tx)).map((unit) => unit.code))
  const parents = new Map((await groupStore.load(tx, 'all')).map((group) => [group.id, group.parentId]))
  for (const edit of edits) {
    if (edit.id !== null) {
      parents.set(edit.id, edit.definition.parentId)
    }
  }
  return edits.flatMap(({ id, definition }, edit): Fault[] => {
    const faults: Fault[] = []
    for (const field of ['stockUnit', 'buyingUnit', 'sellingUnit', 'makingUnit'] as const) {
      const unit = definition.defaults[field]
      if (unit !== undefined && !units.has(unit)) {
        faults.push({ edit, field: `defaults.${field}`, detail: `There is no unit “${unit}”.` })
      }
    }
    if (definition.parentId !== null && !parents.has(definition.parentId)) {
      faults.push({ edit, field: 'parentId', detail: 'There is no such group.' })
    }
    for (
      let up = definition.parentId, steps = 0;
      up !== null && up !== undefined && steps <= parents.size;
      up = parents.get(up) ?? null, steps++
    ) {
      if (up === id) {
        faults.push({
          edit,
          field: 'parentId',
          detail: 'A group cannot lie within itself. Choose a group that is not below it.',
        })
        break
      }
    }
    return faults
  })
}

/** Gives the items below the groups what these say now; an item that cannot take it is named, and nothing is saved. */
async function handDown(tx: Tx, actor: Actor, edits: readonly (Edit<'groups'> & { id: number })[]): Promise<Fault[]> {
  const below = await rows<{ id: number }>(
    tx,
    sql`
      select i.id
      from items i
      where cardinality(i.inherited) > 0 and i.group_id in ${groupsBelow(
        anyOf(
          sql`id`,
          edits.map((edit) => edit.id),
        ),
      )}`,
  )
  if (below.length === 0) {
    return []
  }
  const there = await loadItems(
    tx as Reader,
    below.map((row) => row.id),
  )
  const summary = await loadGroupDefaults(tx)
  const saved = await saveAll(
    tx,
    actor,
    itemStore,
    there.map(({ id, version, ...definition }) => {
      void version
      const group = summary.get(definition.groupId) ?? {}
      return {
        id,
        version: null,
        definition: {
          ...definition,
          ...Object.fromEntries(
            definition.inherited.flatMap((field) => (group[field] === undefined ? [] : [[field, group[field]]])),
          ),
        },
      }
    }),
  )
  if (saved.ok) {
    return []
  }
  const names = [...new Set(saved.error.map((fault) => there[fault.edit]!.code))]
  const [first] = saved.error
  return [
    {
      edit: 0,
      field: `defaults.${first!.field}`,
      detail: `${names.length === 1 ? 'One item' : `${names.length} items`} of the group cannot take this: ${names.slice(0, 5).join(', ')}${names.length > 5 ? ' …' : ''}. ${first!.detail} Give ${plural(names.length, 'it', 'them')} a value of their own first.`,
    },
  ]
}

/** The next free code of a group, by its own pattern or that of a group above; null where none has one. */
export async function freeCode(reader: Reader, groupId: number): Promise<string | null> {
  const [found] = await rows<{ pattern: string }>(
    reader,
    sql`
      select g.number_pattern as pattern
      from ${GROUP_ANCESTORS} a
      join item_groups g on g.id = a.ancestor
      where a.id = ${groupId} and g.number_pattern <> ''
      order by a.height
      limit 1`,
  )
  if (!found) {
    return null
  }
  const before = found.pattern.split('#')[0]!
  const taken = await rows<{ code: string }>(
    reader,
    sql`select code from items where left(code, ${before.length}) = ${before}`,
  )
  return nextCode(
    found.pattern,
    taken.map((row) => row.code),
  )
}
