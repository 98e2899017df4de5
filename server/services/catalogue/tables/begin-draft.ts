import type { DefinitionKind } from '~~/shared/catalogue/words'
import type { Numbered } from './names'
import type { Fields, Source } from './take-in'

/** What a line of a file is about: the definition by its key, and how a new one of it begins. */
export interface Named {
  readonly key: string
  readonly id: number | null
  readonly begin: Numbered | null
}

/** A bill that a file gives whole: without the lines that it had, for one. */
const beginWhole = ({ itemId, number, makingUnit }: Numbered, stored: Fields | undefined): Fields => ({
  ...begin(stored, 'bills'),
  itemId,
  revision: number,
  fromOn: stored?.fromOn ?? null,
  batchSize: '1',
  batchUnit: makingUnit,
  lines: [],
})

/**
 * The fields that a line's draft begins with: a copy, a numbered revision, what is stored, or what every new one begins
 * with.
 */
export function fieldsToBegin(
  source: Source,
  kind: DefinitionKind,
  entry: Named,
  stored: ReadonlyMap<number, Fields>,
): Fields {
  const own = entry.id === null ? undefined : stored.get(entry.id)
  if (source.fresh && entry.begin) {
    return beginWhole(entry.begin, own)
  }
  return entry.begin && entry.id === null ? beginNumbered(kind, entry.begin, stored) : begin(own, kind)
}

/** A new bill or break-down of an item: as the one before it, or blank. */
function beginNumbered(
  kind: DefinitionKind,
  { itemId, number, copyOf, makingUnit }: Numbered,
  stored: ReadonlyMap<number, Fields>,
): Fields {
  const before = copyOf === null ? {} : begin(stored.get(copyOf), kind)
  return kind === 'bills'
    ? {
        batchUnit: makingUnit,
        lines: [],
        byProducts: [],
        steps: [],
        ...before,
        itemId,
        revision: number,
        fromOn: null,
        name: '',
      }
    : { outputs: [], ...before, itemId, rank: number, name: '' }
}

/** A definition to begin with: a copy of what is there, or a blank one. */
function begin(stored: Fields | undefined, kind: DefinitionKind): Fields {
  if (stored) {
    const { id, version, ...fields } = structuredClone(stored)
    void [id, version]
    return fields
  }
  if (kind === 'items') {
    return { inherited: [] }
  }
  if (kind === 'groups') {
    return { defaults: {} }
  }
  return {}
}
