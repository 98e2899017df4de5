import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { loadBundled } from './lib/bundle.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

/** `npm run formats` writes the published schemas that are made from what the application checks by. */
const { z } = await import('zod')
const { PlanFile } = await loadBundled(root, 'shared/planning/plan-file.ts')
const { format } = await import('prettier')
const text = await format(JSON.stringify(z.toJSONSchema(PlanFile)), { parser: 'json', printWidth: 120 })
writeFileSync(path.join(root, 'docs/formats/plan-input.schema.json'), text)
