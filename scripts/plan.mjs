import { existsSync, readFileSync, statSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { loadBundled } from './lib/bundle.mjs'
import { ensurePackages } from './lib/packages.mjs'
import { orStop, Refused, Stop } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
/** The most faults that are told; a file that is wrong in one way throughout is read no sooner for more. */
const MOST_TOLD = 50

await orStop(main())

/**
 * `npm run plan -- input.json` writes what the engine computes as JSON; both formats are described in docs/formats.
 * Ends with 2 where the file is wrong.
 */
async function main() {
  const [file] = process.argv.slice(2)
  if (!file || !existsSync(file) || !statSync(file).isFile()) {
    throw new Stop('Name the file to plan on: npm run plan -- input.json')
  }
  const text = readFileSync(file, 'utf8')
  let data
  try {
    data = JSON.parse(text)
  } catch (error) {
    throw new Refused(`${file} is no JSON: ${error.message}`)
  }
  await ensurePackages(root)
  const { checkInput } = await loadBundled(root, 'shared/planning/check-plan-file.ts')
  const { plan } = await loadBundled(root, 'core/planning/index.ts')
  const input = checkInput(data)
  if (!input.ok) {
    throw new Refused(`${file} cannot be planned:\n${told(input.error)}`)
  }
  const result = plan(input.value)
  if (!result.ok) {
    throw new Refused(`${file} cannot be planned: ${result.error.code}`)
  }
  const beyond = result.value.messages.filter((message) => message.code === 'beyond limit')
  if (beyond.length > 0) {
    throw new Refused(`${file} cannot be planned:\n${told(beyond.map(faultOf))}`)
  }
  process.stdout.write(`${JSON.stringify(result.value, null, 1)}\n`)
}

/** What only planning finds: that a number gets too big on the way. */
function faultOf({ node, limit }) {
  const sentence =
    limit === 'sum' ? 'comes to more than 2^53 - 1 steps on a day' : 'needs more than ten thousand orders for one day'
  return { path: `node ${node}`, sentence }
}

/** Every fault on a line. */
function told(faults) {
  const lines = faults.slice(0, MOST_TOLD).map(({ path, sentence }) => `  ${path} ${sentence}.`)
  return [...lines, ...(faults.length > MOST_TOLD ? [`  … and ${faults.length - MOST_TOLD} more.`] : [])].join('\n')
}
