import { asc, sql } from 'drizzle-orm'
import { nextCode } from '~~/core/codes'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { itemGroups } from '~~/server/database/schema'
import type { Actor } from '~~/server/utils/route'
import type { Stored } from '~~/shared/definitions'
import { loadUnits } from '../measured-items'
import { loadGroupDefaults } from './inherit'
import { itemStore, loadItems } from './item-store'
import { saveAll } from './save'
import { among, type Edit, type Fault, type DefinitionStore } from './store'
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
      .where(ids === 'all' ? undefined : among(sql`${itemGroups.id}`, ids))
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
      with recursive tree as (
        select id
        from item_groups
        where ${among(
          sql`id`,
          edits.map((edit) => edit.id),
        )}
        union
        select g.id
        from item_groups g
        join tree t on g.parent_id = t.id
      )
      select i.id
      from items i
      join tree t on t.id = i.group_id
      where cardinality(i.inherited) > 0`,
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
      detail: `${names.length === 1 ? 'One item' : `${names.length} items`} of the group cannot take this: ${names.slice(0, 5).join(', ')}${names.length > 5 ? ' …' : ''}. ${first!.detail} Give ${names.length === 1 ? 'it' : 'them'} a value of their own first.`,
    },
  ]
}

/** The next free code of a group, by its own pattern or that of a group above; null where none has one. */
export async function freeCode(reader: Reader, groupId: number): Promise<string | null> {
  const [found] = await rows<{ pattern: string }>(
    reader,
    sql`
      with recursive up as (
        select id, parent_id, number_pattern, 0 as height
        from item_groups
        where id = ${groupId}
        union all
        select g.id, g.parent_id, g.number_pattern, u.height + 1
        from item_groups g
        join up u on g.id = u.parent_id
      )
      select number_pattern as pattern
      from up
      where number_pattern <> ''
      order by height
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
