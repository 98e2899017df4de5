import { fileURLToPath } from 'node:url'
import { loadBundled } from './lib/bundle.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { orStop, say } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/** `npm run rebuild [-- --empty]`: works all balances out again from the moves and mends what differs, beside a running server or without one. */
async function main() {
  ensureDebian({ postgres: !process.env.DATABASE_URL })
  await ensurePackages(root)
  const postgres = process.env.DATABASE_URL ? null : await startPostgres({ root })
  process.env.DATABASE_URL ??= postgres.url(process.argv.includes('--empty') ? 'tsumiki_own' : 'tsumiki')
  try {
    const { rebuildOnce } = await loadBundled(root, 'server/ledger/rebuild.ts')
    const start = performance.now()
    const { moves, balances, mended } = await rebuildOnce()
    for (const entry of mended) {
      process.stdout.write(`  balance ${entry.balanceId}: ${entry.kept} was kept, ${entry.moved} by the moves\n`)
    }
    say(
      `${balances} balances worked out again from ${moves} moves in ${((performance.now() - start) / 1000).toFixed(1)} s: ${mended.length === 0 ? 'none differed' : `${mended.length} mended`}`,
    )
  } finally {
    if (postgres && !postgres.joined) {
      await postgres.stop()
    }
  }
}
