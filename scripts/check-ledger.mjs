import { fileURLToPath } from 'node:url'
import { orStop, say } from './lib/say.mjs'
import { withDatabase } from './lib/with-database.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/**
 * `npm run check-ledger [-- --mend] [-- --demo]`: works all that is kept as a sum out again from what was recorded,
 * quantities and values, beside a running server or without one. Names what differs, and ends with 1 where something
 * does; mends it only with `--mend`.
 */
async function main() {
  await withDatabase(root, 'server/ledger/check/index.ts', async ({ checkOnce }) => {
    const start = performance.now()
    const { differences, left } = await checkOnce({ mend: process.argv.includes('--mend') })
    for (const { kind, what, kept, worked, unit } of differences) {
      process.stdout.write(`  ${kind} · ${what}: ${amount(kept, unit)} kept, ${amount(worked, unit)} by the moves\n`)
    }
    const took = `${((performance.now() - start) / 1000).toFixed(1)} s`
    say(`Ledger checked in ${took}: ${verdict(differences.length, left.length)}`)
    process.exitCode = left.length > 0 ? 1 : 0
  })
}

function verdict(differing, left) {
  if (differing === 0) {
    return 'nothing differs'
  }
  return left === 0 ? `${differing} mended` : `${left} differ${left === 1 ? 's' : ''}`
}

function amount(text, unit) {
  return unit === null ? text : `${text} ${unit === 'money' ? 'minor units' : unit}`
}
