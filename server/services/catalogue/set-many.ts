import type { Tx } from '~~/server/database/client'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import type { SetMany } from '~~/shared/catalogue/requests'
import { ItemEdit } from '~~/shared/catalogue/item'
import { INHERITABLE, type Inheritable } from '~~/shared/catalogue/words'
import { ok, refuse, type Result } from '~~/core/result'
import { isSame, loadGroupDefaults, saveAll, shapeOf, type Edit } from './definitions'
import { loadItems } from './definitions/item-store'
import { stillUsed } from './still-used'
import { loadNames } from './tables/names'
import type { SetPreview } from '../../../shared/catalogue/answers'

/**
 * Sets one field of many items to one value, all of them or none.
 *
 * A dry run says what would change and what stands against it. Done, it is a batch that is taken back as a whole.
 */
export async function setMany(tx: Tx, actor: Actor, { ids, field, value, inherit, dry }: SetMany): Promise<SetPreview> {
  const there = await loadItems(tx, ids)
  const summary = await loadGroupDefaults(tx)
  const names = await loadNames(tx, ['groups'])
  const faults: { code: string; detail: string }[] = []
  const edits: SetEdit[] = []
  for (const { id, version, ...item } of there) {
    void version
    const edit = editOf(item, summary.get(item.groupId) ?? {}, { field, value, inherit })
    if (edit.ok) {
      edits.push({ id, version: null, definition: edit.value, before: item[field] })
    } else {
      faults.push({ code: item.code, detail: edit.error })
    }
  }
  const isRehearsal = dry || faults.length > 0
  const batchId = isRehearsal ? undefined : await openBatch(tx, actor, `${inWords(field)} of ${ids.length} items`)
  const saved = await saveAll(tx, actor, shapeOf('items'), edits, { dry: isRehearsal, batchId })
  if (!saved.ok) {
    for (const fault of saved.error) {
      faults.push({ code: edits[fault.edit]!.definition.code, detail: fault.detail })
    }
  }
  if (!dry && faults.length > 0) {
    throw new Refusal('invalid-input', `${faults[0]!.code}: ${faults[0]!.detail}`)
  }
  const print = (cell: unknown): string => {
    if (cell === null || cell === '') {
      return 'nothing'
    }
    if (field === 'groupId') {
      return names.codeOf('groups', Number(cell))
    }
    return String(cell)
  }
  const changing = [...edits]
    .sort((a, b) => (a.definition.code < b.definition.code ? -1 : 1))
    .filter((edit) => !isSame(edit.before, edit.definition[field]))
  return {
    chosen: there.length,
    changing: changing.length,
    batchId: batchId ?? null,
    stillUsed:
      field === 'status' && value === 'retired'
        ? await stillUsed(
            tx,
            changing.map((edit) => edit.id!),
            actor.today,
          )
        : [],
    faults,
    changes: changing.slice(0, 200).map((edit) => ({
      id: edit.id!,
      code: edit.definition.code,
      name: edit.definition.name,
      before: print(edit.before),
      after: print(edit.definition[field]),
    })),
  }
}

type SetEdit = Edit<'items'> & { readonly before: unknown }

/** The item with the field set, or as its group says it. */
function editOf(
  item: ItemEdit,
  group: Partial<Record<Inheritable, unknown>>,
  { field, value, inherit }: Pick<SetMany, 'field' | 'value' | 'inherit'>,
): Result<ItemEdit, string> {
  const isInheritable = INHERITABLE.includes(field as Inheritable)
  const stated = isInheritable ? group[field as Inheritable] : undefined
  if (inherit && stated === undefined) {
    return refuse('Its group states nothing for this field.')
  }
  const inherited = inherit
    ? [...new Set([...item.inherited, field as Inheritable])]
    : item.inherited.filter((name) => name !== field)
  const parsed = ItemEdit.safeParse({ ...item, inherited, [field]: inherit ? stated : value })
  return parsed.success ? ok(parsed.data) : refuse(parsed.error.issues[0]!.message)
}

async function openBatch(tx: Tx, actor: Actor, label: string): Promise<number> {
  const [batch] = await tx
    .insert(batches)
    .values({ kind: 'set', table: 'items', label, userId: actor.userId, state: 'done' })
    .returning({ id: batches.id })
  return batch!.id
}

const inWords = (field: string): string =>
  field.replace(/Id$/, '').replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
