import { fileURLToPath } from 'node:url'
import { loadBundled } from './lib/bundle.mjs'
import { askedCompany, chooseCompany, DATABASES, makeDataFolder } from './lib/data-folder.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { orStop, say } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/**
 * `npm run check-ledger [-- --mend] [-- --demo]`: works all that is kept as a sum out again from what was recorded,
 * quantities and values, beside a running server or without one. Names what differs, and ends with 1 where something
 * does; mends it only with `--mend`.
 */
async function main() {
  ensureDebian({ postgres: !process.env.DATABASE_URL })
  await ensurePackages(root)
  const postgres = process.env.DATABASE_URL ? null : await startPostgres({ root })
  process.env.DATABASE_URL ??= postgres.url(
    DATABASES[chooseCompany(makeDataFolder(root), askedCompany(process.argv), postgres.has)],
  )
  try {
    const { checkOnce } = await loadBundled(root, 'server/ledger/check/index.ts')
    const start = performance.now()
    const { differences, left } = await checkOnce({ mend: process.argv.includes('--mend') })
    for (const { kind, what, kept, worked, unit } of differences) {
      process.stdout.write(`  ${kind} · ${what}: ${amount(kept, unit)} kept, ${amount(worked, unit)} by the moves\n`)
    }
    const took = `${((performance.now() - start) / 1000).toFixed(1)} s`
    say(`Ledger checked in ${took}: ${verdict(differences.length, left.length)}`)
    process.exitCode = left.length > 0 ? 1 : 0
  } finally {
    if (postgres && !postgres.joined) {
      await postgres.stop()
    }
  }
}

function verdict(differing, left) {
  if (differing === 0) {
    return 'nothing differs'
  }
  return left === 0 ? `${differing} mended` : `${left} differ${left === 1 ? 's' : ''}`
}

const amount = (text, unit) => (unit === null ? text : `${text} ${unit === 'money' ? 'minor units' : unit}`)
