import { sql } from 'drizzle-orm'
import { db, rows } from '~~/server/database/client'
import { loadDefinition, saveOne, shapeOf } from '~~/server/services/catalogue/definitions'
import { openImport } from '~~/server/services/catalogue/tables/batches'
import { inTransaction } from '~~/server/database/transactions'
import { revisionsOf } from '~~/server/services/structure/bills'
import type { Definition } from '~~/shared/catalogue/definitions'
import type { ImportName } from '~~/shared/catalogue/words'
import { BillEdit } from '~~/shared/structure/requests'
import { idOf, owner, refusalOf } from './database'

export const TODAY = '2026-10-05'
export const item = (code: string): Promise<number> => idOf('items', code)
export const bill = async (name: string): Promise<number> =>
  (await rows<{ id: number }>(db, sql`select id from boms where name = ${name}`))[0]!.id
export const save = async (id: number, change: Partial<Definition<'bills'>>) => {
  const { id: own, version, ...definition } = await loadDefinition(db, 'bills', id)
  return inTransaction((tx) =>
    saveOne(tx, owner, shapeOf('bills'), {
      id: own,
      version,
      definition: BillEdit.parse({ ...definition, ...change }),
    }),
  )
}
export const refused = async (id: number, change: Partial<Definition<'bills'>>) => {
  const { id: own, version, ...definition } = await loadDefinition(db, 'bills', id)
  return (
    await refusalOf((tx) =>
      saveOne(tx, owner, shapeOf('bills'), { id: own, version, definition: { ...definition, ...change } }),
    )
  ).fields
}
export const states = async (code: string) =>
  Object.fromEntries((await revisionsOf(db, await item(code), TODAY)).map((entry) => [entry.revision, entry.state]))
export const open = (table: ImportName, fileName: string, text: string) =>
  openImport(owner, { table, fileName, content: Buffer.from(text).toString('base64') })
