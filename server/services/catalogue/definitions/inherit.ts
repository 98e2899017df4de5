import { sql } from 'drizzle-orm'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { INHERITABLE, type GroupDefaults } from '~~/shared/catalogue'
import type { Edit } from './shape'

interface GroupRow { readonly id: number, readonly parentId: number | null, readonly defaults: GroupDefaults }

/** What each group says, with what it takes over from the groups above; a group's own word goes first. */
export async function loadGroupDefaults(reader: Reader): Promise<Map<number, GroupDefaults>> {
  const groups = new Map((await rows<GroupRow>(reader, sql`select id, parent_id as "parentId", defaults from item_groups`)).map(group => [group.id, group]))
  const known = new Map<number, GroupDefaults>()
  const resolve = (id: number): GroupDefaults => {
    const there = known.get(id)
    if (there) return there
    const group = groups.get(id)!
    const all = { ...group.parentId === null ? {} : resolve(group.parentId), ...group.defaults }
    known.set(id, all)
    return all
  }
  for (const id of groups.keys()) resolve(id)
  return known
}

/** Gives each inherited field the value that its group says; a field that no group states is the item's own. */
export async function inheritInto(tx: Tx, edits: readonly Edit<'items'>[]): Promise<Edit<'items'>[]> {
  const defaults = await loadGroupDefaults(tx)
  return edits.map((edit) => {
    const says = defaults.get(edit.definition.groupId) ?? {}
    const inherited = INHERITABLE.filter(field => edit.definition.inherited.includes(field) && says[field] !== undefined)
    return { ...edit, definition: { ...edit.definition, ...Object.fromEntries(inherited.map(field => [field, says[field]])), inherited } }
  })
}
