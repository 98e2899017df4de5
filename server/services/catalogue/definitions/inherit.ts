import { sql } from 'drizzle-orm'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import type { GroupDefaults } from '~~/shared/catalogue/item-parts'
import { INHERITABLE, type Inheritable } from '~~/shared/catalogue/words'
import type { Stored } from '~~/shared/catalogue/definitions'
import type { Edit } from './store'

interface GroupRow {
  readonly id: number
  readonly parentId: number | null
  readonly defaults: GroupDefaults
}

/** What each group says, with what it takes over from the groups above; a group's own word goes first. */
export async function loadGroupDefaults(reader: Reader): Promise<Map<number, GroupDefaults>> {
  const groups = new Map(
    (await rows<GroupRow>(reader, sql`select id, parent_id as "parentId", defaults from item_groups`)).map((group) => [
      group.id,
      group,
    ]),
  )
  const known = new Map<number, GroupDefaults>()
  const resolve = (id: number): GroupDefaults => {
    const there = known.get(id)
    if (there) {
      return there
    }
    const group = groups.get(id)!
    const all = { ...(group.parentId === null ? {} : resolve(group.parentId)), ...group.defaults }
    known.set(id, all)
    return all
  }
  for (const id of groups.keys()) {
    resolve(id)
  }
  return known
}

/** What moved stock stands on; an item that comes into another group keeps it as its own. */
const FIXED: readonly Inheritable[] = ['stockUnit', 'finestStep', 'tracking', 'costing']

/**
 * Gives each inherited field the value that its group says; a field that no group states is the item's own, and so is
 * one that was given another value while the item stayed in its group.
 */
export async function inheritInto(
  tx: Tx,
  edits: readonly Edit<'items'>[],
  before: ReadonlyMap<number, Stored<'items'>>,
): Promise<Edit<'items'>[]> {
  const defaults = await loadGroupDefaults(tx)
  const regrouped = edits.flatMap(({ id, definition }) =>
    id !== null && before.get(id)?.groupId !== definition.groupId ? [id] : [],
  )
  const moved = new Set(
    regrouped.length === 0
      ? []
      : (
          await rows<{ id: number }>(
            tx,
            sql`
              select id
              from items
              where ${anyOf(sql`id`, regrouped)} and exists (select 1 from moves where item_id = items.id)`,
          )
        ).map((row) => row.id),
  )
  return edits.map((edit) => {
    const summary = defaults.get(edit.definition.groupId) ?? {}
    const was = edit.id !== null && moved.has(edit.id) ? before.get(edit.id)! : null
    const kept = was
      ? FIXED.filter(
          (field) =>
            edit.definition.inherited.includes(field) && String(summary[field] ?? was[field]) !== String(was[field]),
        )
      : []
    const stays = edit.id !== null && before.get(edit.id)?.groupId === edit.definition.groupId
    const inherited = INHERITABLE.filter(
      (field) =>
        edit.definition.inherited.includes(field) &&
        summary[field] !== undefined &&
        !kept.includes(field) &&
        !(stays && String(edit.definition[field]) !== String(summary[field])),
    )
    return {
      ...edit,
      definition: {
        ...edit.definition,
        ...Object.fromEntries(kept.map((field) => [field, was![field]])),
        ...Object.fromEntries(inherited.map((field) => [field, summary[field]])),
        inherited,
      },
    }
  })
}
