import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import type { JsonSchema } from './answer-schema'

interface Named {
  readonly name: string
  readonly module: string
}
/** The JSON Schema of a request's schema, as it is sent. */
export type Schemas = (named: Named) => JsonSchema

/** Loads the zod schemas that are named, and tells them as JSON Schema. */
export async function loadSchemas(root: string, named: readonly Named[]): Promise<Schemas> {
  const modules = [...new Set(named.map(({ module }) => module))]
  const folder = path.join(root, 'node_modules/.cache/tsumiki')
  const entry = path.join(folder, 'openapi-schemas.ts')
  const out = path.join(folder, 'openapi-schemas.mjs')
  await mkdir(folder, { recursive: true })
  const lines = modules.map((module, index) => `export * as m${index} from '${module}'`)
  await writeFile(entry, ["export { toJSONSchema } from 'zod'", ...lines, ''].join('\n'))
  await build({
    entryPoints: [entry],
    outfile: out,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    alias: { '~~': root.replace(/\/$/, '') },
    logLevel: 'error',
  })
  const loaded = (await import(`${pathToFileURL(out).href}?${Date.now()}`)) as Record<
    string,
    Record<string, unknown>
  > & {
    toJSONSchema: (schema: unknown, options: object) => JsonSchema
  }
  return ({ name, module }) => {
    const schema = loaded[`m${modules.indexOf(module)}`]?.[name]
    const told = loaded.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' })
    delete told.$schema
    return told
  }
}
