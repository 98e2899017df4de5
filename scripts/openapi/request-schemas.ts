import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { loadBundled } from '../lib/bundle.mjs'
import type { JsonSchema } from './answer-schema'

interface Named {
  readonly name: string
  readonly module: string
}
/** The JSON Schema of a request's schema, as it is sent. */
export type Schemas = (named: Named) => JsonSchema

type Loaded = Record<string, Record<string, unknown>> & {
  toJSONSchema: (schema: unknown, options: object) => JsonSchema
}
/** A module that exports all the others, beside what else is made on the way. */
const ENTRY = 'node_modules/.cache/tsumiki/openapi-schemas.ts'

/** Loads the zod schemas that are named, and tells them as JSON Schema. */
export async function loadSchemas(root: string, named: readonly Named[]): Promise<Schemas> {
  const modules = [...new Set(named.map(({ module }) => module))]
  const lines = modules.map((module, index) => `export * as m${index} from '${module}'`)
  await mkdir(path.join(root, path.dirname(ENTRY)), { recursive: true })
  await writeFile(path.join(root, ENTRY), ["export { toJSONSchema } from 'zod'", ...lines, ''].join('\n'))
  const loaded = (await loadBundled(root, ENTRY)) as Loaded
  return ({ name, module }) => {
    const schema = loaded[`m${modules.indexOf(module)}`]?.[name]
    const told = loaded.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' })
    delete told.$schema
    return told
  }
}
