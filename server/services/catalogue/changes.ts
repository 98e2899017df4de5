import { sql } from 'drizzle-orm'
import { rows, type Reader, type Tx } from '~~/server/database/client'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { DEFINITION_NAMES, DEFINITIONS, type DefinitionKind } from '~~/shared/catalogue/words'
import type { Definition } from '~~/shared/catalogue/definitions'
import { isSame, refusalOf, remove, saveAll, shapeOf, type Edit, type SaveHow } from './definitions'
import { noteDefinitions } from './definitions/note-changes'
import { insertRows } from './definitions/store'
import { describeChange, loadNames } from './describe-change'
import type { ChangeTold } from '../../../shared/catalogue/answers'

type Fields = Record<string, unknown>

interface ChangeRow {
  readonly id: number
  readonly at: string
  readonly who: string
  readonly entity: string
  readonly entityId: string
  readonly label: string
  readonly before: Fields | null
  readonly after: Fields | null
  readonly undone: boolean
  readonly undoes: boolean
  readonly batchId: number | null
}

const CHANGES = sql`
  select
    c.id, c.at, u.name as who, c.entity, c.entity_id as "entityId", c.label, c.before, c.after,
    c.batch_id as "batchId", c.undoes_id is not null as undoes,
    exists (select 1 from changes d where d.undoes_id = c.id) as undone
  from changes c
  join users u on u.id = c.user_id`

/** Fields of a definition that say what it costs. */
const COSTS = ['orderCost', 'otherCost', 'standardCost', 'terms', 'workRate']

const withoutCosts = (fields: Fields | null): Fields | null =>
  fields && Object.fromEntries(Object.entries(fields).filter(([name]) => !COSTS.includes(name)))

/** Who changed what of a definition, the latest first, in words; what it costs for whoever may see that. */
export async function changesOf(
  reader: Reader,
  kind: DefinitionKind,
  id: number,
  seesCosts: boolean,
): Promise<ChangeTold[]> {
  const found = await rows<ChangeRow>(
    reader,
    sql`
      ${CHANGES}
      where c.entity = ${DEFINITION_NAMES[kind]} and c.entity_id = ${String(id)}
      order by c.id desc
      limit 200`,
  )
  const names = await loadNames(reader, found)
  return found.map((change) => {
    let what: 'made' | 'taken away' | 'changed'
    if (change.before === null) {
      what = 'made'
    } else if (change.after === null) {
      what = 'taken away'
    } else {
      what = 'changed'
    }
    return {
      id: change.id,
      at: change.at,
      who: change.who,
      label: change.label,
      undone: change.undone,
      undoes: change.undoes,
      together: change.batchId !== null,
      what,
      lines: describeChange(
        seesCosts ? change : { before: withoutCosts(change.before), after: withoutCosts(change.after) },
        names,
      ),
    }
  })
}

/**
 * Takes a change back: the fields that it changed get their former values, others stay as they are now.
 *
 * Errors: `not-now` where it is undone already, or where a field has been changed again since; `invalid-input` where
 *         the former value no longer holds.
 */
export async function undoChange(
  tx: Tx,
  actor: Actor,
  id: number,
): Promise<{ kind: DefinitionKind; id: number; label: string }> {
  const [change] = await rows<ChangeRow>(tx, sql`${CHANGES} where c.id = ${id}`)
  const kind = change && DEFINITIONS.find((name) => DEFINITION_NAMES[name] === change.entity)
  if (!kind) {
    throw new Refusal('not-found', 'There is no such change.')
  }
  if (change.undone) {
    throw new Refusal('not-now', 'This change is undone already.')
  }
  const entityId = Number(change.entityId)
  await undoOf(tx, actor, kind, [change], { undoesId: id })
  return { kind, id: entityId, label: change.label }
}

/** Takes back everything that a file brought: what it made goes, what it changed becomes what it was. */
export async function undoBatch(tx: Tx, actor: Actor, batchId: number): Promise<void> {
  const found = await rows<ChangeRow>(tx, sql`${CHANGES} where c.batch_id = ${batchId} order by c.id desc`)
  for (const kind of [...DEFINITIONS]) {
    const own = found.filter((change) => change.entity === DEFINITION_NAMES[kind])
    if (own.length > 0) {
      await undoOf(tx, actor, kind, own, {})
    }
  }
}

async function undoOf<K extends DefinitionKind>(
  tx: Tx,
  actor: Actor,
  kind: K,
  changes: readonly ChangeRow[],
  how: SaveHow,
): Promise<void> {
  const shape = shapeOf(kind)
  const ids = changes.filter((change) => change.after !== null).map((change) => Number(change.entityId))
  const now = new Map((ids.length > 0 ? await shape.load(tx, ids) : []).map((stored) => [stored.id, stored]))
  const made = changes.filter((change) => change.before === null && now.has(Number(change.entityId)))
  for (const change of made) {
    if (!isSame(now.get(Number(change.entityId)), change.after)) {
      throw new Refusal('not-now', `${change.label} has been changed since. Undo that first.`)
    }
  }
  const edits = changes
    .filter((change) => change.before !== null && change.after !== null)
    .map((change) => backTo(change, now.get(Number(change.entityId)) as Fields | undefined) as unknown as Edit<K>)
  const saved = edits.length > 0 ? await saveAll(tx, actor, shape, edits, how) : null
  if (saved && !saved.ok) {
    throw refusalOf(saved.error)
  }
  if (made.length > 0) {
    await remove(
      tx,
      actor,
      shape,
      made.map((change) => Number(change.entityId)),
      how,
    )
  }
  for (const change of changes.filter((c) => c.after === null)) {
    await bringBack(tx, actor, kind, change, how)
  }
}

function backTo(change: ChangeRow, now: Fields | undefined): { id: number; version: null; definition: Fields } {
  if (!now) {
    throw new Refusal('not-now', `${change.label} is not there any more.`)
  }
  const fields = Object.keys(change.before!).filter(
    (field) => field !== 'version' && !isSame(change.before![field], change.after![field]),
  )
  const again = fields.find((field) => !isSame(now[field], change.after![field]))
  if (again) {
    throw new Refusal(
      'not-now',
      `${change.label}: this has been changed again since (${again.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)}). Undo the later change first.`,
    )
  }
  const { id, version, ...definition } = now
  void version
  return {
    id: id as number,
    version: null,
    definition: { ...definition, ...Object.fromEntries(fields.map((field) => [field, change.before![field]])) },
  }
}

/** Puts back what was taken away, under the number that it had, so that whatever names it finds it. */
async function bringBack<K extends DefinitionKind>(
  tx: Tx,
  actor: Actor,
  kind: K,
  change: ChangeRow,
  how: SaveHow,
): Promise<void> {
  const shape = shapeOf(kind)
  const { version, ...definition } = change.before as Fields
  void version
  const { own, lists } = shape.rowsOf(definition as unknown as Definition<K>)
  const columns = sql.join(
    ['id', ...Object.keys(own)].map((name) => sql.identifier(name)),
    sql`, `,
  )
  await tx.execute(
    sql`
      insert into ${sql.identifier(shape.table)} (${columns}) overriding system value
      select ${columns}
      from jsonb_populate_recordset(
        null::${sql.identifier(shape.table)},
        ${JSON.stringify([{ id: Number(change.entityId), ...own }])}::jsonb
      )`,
  )
  for (const [table, parent] of Object.entries(shape.lists)) {
    await insertRows(
      tx,
      table,
      (lists[table] ?? []).map((row) => ({ [parent]: Number(change.entityId), ...row })),
    )
  }
  const made = { id: change.entityId, label: change.label, before: null, after: { ...definition, version: 1 } }
  await noteDefinitions(tx, actor, kind, [made], { undoesId: how.undoesId })
}
