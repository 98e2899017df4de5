import { existsSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { loadBundled } from './lib/bundle.mjs'
import { ensurePackages } from './lib/packages.mjs'
import { orStop, Stop } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/** `npm run plan -- input.json` writes what the engine computes as JSON; both formats are described in docs/formats. */
async function main() {
  const [file] = process.argv.slice(2)
  if (!file || !existsSync(file)) {
    throw new Stop('Name the file to plan on: npm run plan -- input.json')
  }
  let data
  try {
    data = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    throw new Stop(`${file} is no JSON: ${error.message}`)
  }
  await ensurePackages(root)
  const { checkInput } = await loadBundled(root, 'core/planning/input/index.ts')
  const { plan } = await loadBundled(root, 'core/planning/index.ts')
  const input = checkInput(data)
  if (!input.ok) {
    throw new Stop(`${file}: ${input.error.path} must be ${input.error.wanted}.`)
  }
  const result = plan(input.value)
  if (!result.ok) {
    throw new Stop(`${file} cannot be planned: ${JSON.stringify(result.error)}`)
  }
  process.stdout.write(`${JSON.stringify(result.value, null, 1)}\n`)
}
