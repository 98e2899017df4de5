import { sql } from 'drizzle-orm'
import { rows, type Tx } from '~~/server/database/client'
import { anyOf } from '~~/server/database/sql'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { DEFINITION_NAMES, rightToChange, type DefinitionKind } from '~~/shared/catalogue/words'
import type { Definition } from '~~/shared/catalogue/definitions'
import { isAllowed, rolesWith } from '~~/shared/company/rights'
import { insertRows, updateRows, type Edit, type Fault, type Row, type DefinitionStore } from './store'
import { isSame } from './is-same'
import { noteDefinitions } from './note-changes'
import { usesOf } from './uses'
import { requireVersion } from '../../../documents'

export interface Saved {
  readonly ids: readonly number[]
  readonly made: number
  readonly changed: number
  /** What the edits would change elsewhere; told by a dry run only. */
  readonly effects: readonly string[]
}
/** `dry` checks everything and writes nothing; `confirmed: false` asks before it changes something elsewhere. */
export interface SaveHow {
  readonly batchId?: number
  readonly undoesId?: number
  readonly dry?: boolean
  readonly confirmed?: boolean
}

/**
 * Saves definitions of one kind, all of them or none: locks, checks against each other and what is there, writes only
 * what differs, and notes every change.
 *
 * Errors: as values, all faults of all edits; throws `stale-version` where an author saw an older version, and
 *         `needs-yes`. Cost: a handful of statements, however many edits.
 */
export async function saveAll<K extends DefinitionKind>(
  tx: Tx,
  actor: Actor,
  store: DefinitionStore<K>,
  given: readonly Edit<K>[],
  how: SaveHow = {},
): Promise<{ ok: true; value: Saved } | { ok: false; error: Fault[] }> {
  requireKind(actor, store.kind)
  const before = await lockAsAuthorsSaw(tx, store, given)
  const edits = store.complete ? await store.complete(tx, given, before) : given
  const faults = [...(await takenKeys(tx, store, edits)), ...(await store.check(tx, edits, before, actor))]
  if (faults.length > 0) {
    return { ok: false, error: faults }
  }
  const fresh = edits.filter((edit) => edit.id === null)
  const changed = edits.filter((edit) => edit.id !== null && !isSame(edit.definition, before.get(edit.id)!))
  const effects = store.effects && (how.dry || how.confirmed === false) ? await store.effects(tx, changed, before) : []
  if (how.dry) {
    return { ok: true, value: { ids: [], made: fresh.length, changed: changed.length, effects } }
  }
  if (effects.length > 0) {
    throw new Refusal('needs-yes', 'This changes what is said elsewhere. Look at it, and say yes.', undefined, effects)
  }
  const written = await write(tx, store, fresh, changed)
  await noteAll(tx, actor, store, { written, before, how })
  const late = written.length > 0 && store.after ? await store.after(tx, actor, written) : []
  if (late.length > 0) {
    return { ok: false, error: late }
  }
  const idOf = new Map(written.map((edit) => [keyIn(store, edit.definition), edit.id]))
  return {
    ok: true,
    value: {
      ids: edits.map((edit) => edit.id ?? idOf.get(keyIn(store, edit.definition))!),
      made: fresh.length,
      changed: changed.length,
      effects,
    },
  }
}

type Written<K extends DefinitionKind> = Edit<K> & { readonly id: number }
type Before<K extends DefinitionKind> = ReadonlyMap<number, Awaited<ReturnType<DefinitionStore<K>['load']>>[number]>

const keyIn = <K extends DefinitionKind>(store: DefinitionStore<K>, definition: Definition<K>): string =>
  String((definition as Row)[store.key])

/**
 * Locks what is edited, and reads it as it is stored. Throws `not-found`, and `stale-version` where an author saw an
 * older one.
 */
async function lockAsAuthorsSaw<K extends DefinitionKind>(
  tx: Tx,
  store: DefinitionStore<K>,
  given: readonly Edit<K>[],
): Promise<Before<K>> {
  const known = given.flatMap((edit) => edit.id ?? [])
  if (known.length === 0) {
    return new Map()
  }
  await tx.execute(
    sql`select id from ${sql.identifier(store.table)} where ${anyOf(sql`id`, known)} order by id for update`,
  )
  const before = new Map((await store.load(tx, known)).map((stored) => [stored.id, stored]))
  for (const edit of given) {
    const there = edit.id === null ? null : before.get(edit.id)
    if (edit.id !== null && !there) {
      throw new Refusal('not-found', `There is no such ${DEFINITION_NAMES[store.kind]}.`)
    }
    if (there && edit.version !== null) {
      await requireVersion(tx, DEFINITION_NAMES[store.kind], there.id, edit.version, there.version)
    }
  }
  return before
}

/** Writes new and changed definitions with their lists. */
async function write<K extends DefinitionKind>(
  tx: Tx,
  store: DefinitionStore<K>,
  fresh: readonly Edit<K>[],
  changed: readonly Edit<K>[],
): Promise<Written<K>[]> {
  const made = await insertRows(
    tx,
    store.table,
    fresh.map((edit) => store.rowsOf(edit.definition).own),
  ).catch(meanwhileTaken(store.key))
  const idOf = new Map(made.map((row) => [String(row[store.key]), row.id as number]))
  await updateRows(
    tx,
    store.table,
    changed.map((edit) => ({ id: edit.id, ...store.rowsOf(edit.definition).own })),
  ).catch(meanwhileTaken(store.key))
  const written = [
    ...fresh.map((edit) => ({ ...edit, id: idOf.get(keyIn(store, edit.definition))! })),
    ...changed.map((edit) => ({ ...edit, id: edit.id! })),
  ]
  await writeLists(tx, store, written, new Set(changed.map((edit) => edit.id!)))
  return written
}

async function noteAll<K extends DefinitionKind>(
  tx: Tx,
  actor: Actor,
  store: DefinitionStore<K>,
  { written, before, how }: { written: readonly Written<K>[]; before: Before<K>; how: SaveHow },
): Promise<void> {
  const changes = written.map((edit) => ({
    id: edit.id,
    label: keyIn(store, edit.definition),
    before: bare(before.get(edit.id)),
    after: { ...edit.definition, version: (before.get(edit.id)?.version ?? 0) + 1 },
  }))
  await noteDefinitions(tx, actor, store.kind, changes, how)
}

/** Somebody else took the key between the check and the writing. */
const meanwhileTaken =
  (key: string) =>
  (error: unknown): never => {
    if ((error as { cause?: { code?: string } }).cause?.code !== '23505') {
      throw error
    }
    throw new Refusal('taken', `This ${key} has just been taken by somebody else. Choose another.`, {
      [key]: `This ${key} has just been taken. Choose another.`,
    })
  }

/** Saves one; its faults are a refusal with a sentence beside each field. */
export async function saveOne<K extends DefinitionKind>(
  tx: Tx,
  actor: Actor,
  store: DefinitionStore<K>,
  edit: Edit<K>,
  how: SaveHow = {},
): Promise<{ id: number }> {
  const saved = await saveAll(tx, actor, store, [edit], how)
  if (!saved.ok) {
    throw refusalOf(saved.error)
  }
  return { id: saved.value.ids[0]! }
}

export function refusalOf(faults: readonly Fault[]): Refusal {
  const fields: Record<string, string> = {}
  for (const fault of faults) {
    fields[fault.field] ??= fault.detail
  }
  return new Refusal('invalid-input', faults[0]!.detail, fields)
}

/**
 * Takes a definition away that nothing refers to.
 *
 * Errors: `not-now`, naming what uses it, with the advice to retire it.
 */
export async function remove<K extends DefinitionKind>(
  tx: Tx,
  actor: Actor,
  store: DefinitionStore<K>,
  ids: readonly number[],
  how: SaveHow = {},
): Promise<void> {
  requireKind(actor, store.kind)
  const there = await store.load(tx, ids)
  if (there.length === 0) {
    throw new Refusal('not-found', `There is no such ${DEFINITION_NAMES[store.kind]}.`)
  }
  const uses = await usesOf(
    tx,
    store.table,
    there.map((entry) => entry.id),
  )
  const [used] = uses
  if (used) {
    const name = String((there.find((entry) => entry.id === used.id) as unknown as Row)[store.key])
    throw new Refusal(
      'not-now',
      `${name} is used by ${[...new Set(uses.filter((use) => use.id === used.id).map((use) => use.by))].join(', ')}, so it stays.${insteadOfDeleting(store.kind)}`,
    )
  }
  await rows(tx, sql`delete from ${sql.identifier(store.table)} where ${anyOf(sql`id`, ids)}`)
  const changes = there.map((entry) => ({
    id: entry.id,
    label: String((entry as unknown as Row)[store.key]),
    before: bare(entry),
    after: null,
  }))
  await noteDefinitions(tx, actor, store.kind, changes, how)
}

function requireKind(actor: Actor, kind: DefinitionKind): void {
  const right = rightToChange(kind)
  if (!isAllowed(actor, right)) {
    throw new Refusal(
      'missing-right',
      `You are signed in as ${actor.role}. To change a ${DEFINITION_NAMES[kind]} takes one of: ${rolesWith(right).join(', ')}.`,
    )
  }
}

async function takenKeys<K extends DefinitionKind>(
  tx: Tx,
  store: DefinitionStore<K>,
  edits: readonly Edit<K>[],
): Promise<Fault[]> {
  const keys = edits.map((edit) => String((edit.definition as Row)[store.key]))
  if (keys.length === 0) {
    return []
  }
  const holders = new Map(
    (
      await rows<{ id: number; key: string }>(
        tx,
        sql`
          select id, ${sql.identifier(store.key)} as key
          from ${sql.identifier(store.table)}
          where ${anyOf(sql.identifier(store.key), keys)}`,
      )
    ).map((row) => [row.key, row.id]),
  )
  const editOf = new Map(edits.flatMap((edit, index) => (edit.id === null ? [] : [[edit.id, index]])))
  const first = new Map([...keys.entries()].reverse().map(([index, key]) => [key, index]))
  /** Whether somebody has the key and keeps it: whoever holds it may be giving it up in this very batch. */
  const isHeld = (key: string, ownId: number | null): boolean => {
    const holder = holders.get(key)
    if (holder === undefined || holder === ownId) {
      return false
    }
    const edit = editOf.get(holder)
    return edit === undefined || keys[edit] === key
  }
  return keys.flatMap((key, index): Fault[] => {
    if (!isHeld(key, edits[index]!.id) && first.get(key) === index) {
      return []
    }
    const detail = store.keyField ? `There is a ${key} already.` : `The ${store.key} ${key} is taken. Choose another.`
    return [{ edit: index, field: store.keyField ?? store.key, detail }]
  })
}

async function writeLists<K extends DefinitionKind>(
  tx: Tx,
  store: DefinitionStore<K>,
  written: readonly (Edit<K> & { id: number })[],
  replaced: ReadonlySet<number>,
): Promise<void> {
  for (const [table, parent] of Object.entries(store.lists)) {
    if (replaced.size > 0) {
      await rows(tx, sql`delete from ${sql.identifier(table)} where ${anyOf(sql.identifier(parent), [...replaced])}`)
    }
    await insertRows(
      tx,
      table,
      written.flatMap((edit) =>
        (store.rowsOf(edit.definition).lists[table] ?? []).map((row) => ({ [parent]: edit.id, ...row })),
      ),
    )
  }
}

const bare = (stored: object | undefined): Row | null => {
  if (!stored) {
    return null
  }
  const { id, ...rest } = stored as unknown as Row & { id: number }
  void id
  return rest
}

/** What to do about a definition that is in use: some can be taken off there, others be retired. */
function insteadOfDeleting(kind: DefinitionKind): string {
  if (kind === 'bills' || kind === 'break-downs') {
    return ''
  }
  return kind === 'groups' || kind === 'calendars'
    ? ' Take it off there first.'
    : ' Retire it instead: it is offered no more, and its history keeps its name.'
}
