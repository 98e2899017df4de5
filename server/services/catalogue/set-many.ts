import type { Tx } from '~~/server/database/client'
import { batches } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { type SetMany } from '~~/shared/catalogue/requests'
import { ItemEdit } from '~~/shared/catalogue/item'
import { INHERITABLE, type Inheritable } from '~~/shared/catalogue/words'
import { isSame, loadGroupDefaults, saveAll, shapeOf, type Edit } from './definitions'
import { loadItems } from './definitions/item-store'
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
  const edits: (Edit<'items'> & { before: unknown })[] = []
  for (const { id, version, ...item } of there) {
    void version
    const group = summary.get(item.groupId) ?? {}
    const inheritable = INHERITABLE.includes(field as Inheritable)
    if (inherit && (!inheritable || group[field as Inheritable] === undefined)) {
      faults.push({ code: item.code, detail: 'Its group states nothing for this field.' })
      continue
    }
    let inherited
    if (inheritable) {
      if (inherit) {
        inherited = [...new Set([...item.inherited, field as Inheritable])]
      } else {
        inherited = item.inherited.filter((name) => name !== field)
      }
    } else {
      inherited = item.inherited
    }
    const parsed = ItemEdit.safeParse({ ...item, inherited, [field]: inherit ? group[field as Inheritable] : value })
    if (parsed.success) {
      edits.push({ id, version: null, definition: parsed.data, before: item[field] })
    } else {
      faults.push({ code: item.code, detail: parsed.error.issues[0]!.message })
    }
  }
  const batchId =
    dry || faults.length > 0
      ? undefined
      : (
          await tx
            .insert(batches)
            .values({
              kind: 'set',
              table: 'items',
              label: `${inWords(field)} of ${ids.length} items`,
              userId: actor.userId,
              state: 'done',
            })
            .returning({ id: batches.id })
        )[0]!.id
  const saved = await saveAll(tx, actor, shapeOf('items'), edits, { dry: dry || faults.length > 0, batchId })
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

const inWords = (field: string): string =>
  field.replace(/Id$/, '').replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
