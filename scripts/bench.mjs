import { fileURLToPath } from 'node:url'
import { inThread } from './lib/bench-thread.mjs'
import { loadBundled } from './lib/bundle.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { orStop, Stop } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const BENCHES = ['units', 'structure', 'cutting', 'forecasting', 'planning', 'snapshot', 'ledger', 'stock', 'catalogue']

await orStop(main())

/** `npm run bench [-- NAME] [--json]`: a row a figure, beside what it is compared with in the same run. */
async function main() {
  const asJson = process.argv.includes('--json')
  const [name] = process.argv.slice(2).filter((word) => !word.startsWith('--'))
  if (name && !BENCHES.includes(name)) {
    throw new Stop(`There is no bench “${name}”. There are: ${BENCHES.join(', ')}.`)
  }
  ensureDebian()
  await ensurePackages(root)
  const figures = []
  for (const bench of name ? [name] : BENCHES) {
    const postgres =
      bench === 'planning' ||
      bench === 'snapshot' ||
      bench === 'ledger' ||
      bench === 'stock' ||
      bench === 'catalogue' ||
      bench === 'structure'
        ? await startPostgres({ root, name: 'test-postgres' })
        : null
    try {
      if (postgres) {
        postgres.drop('bench')
        process.env.DATABASE_URL = postgres.url('bench')
      }
      figures.push(
        ...(bench === 'planning' || bench === 'snapshot'
          ? await inThread(root, bench)
          : await (await loadBundled(root, `bench/${bench}.ts`)).run()),
      )
    } finally {
      await postgres?.stop()
    }
  }
  if (asJson) {
    process.stdout.write(`${JSON.stringify(figures, null, 1)}\n`)
    return
  }
  const rows = [
    ['bench', 'figure', 'value', 'unit', 'compared with', 'ratio'],
    ...figures.map((f) => [f.bench, f.figure, f.value.toPrecision(4), f.unit, f.comparedWith, f.ratio.toPrecision(3)]),
  ]
  const widths = rows[0].map((_, index) => Math.max(...rows.map((row) => row[index].length)))
  for (const row of rows) {
    process.stdout.write(
      `${row
        .map((cell, index) => cell.padEnd(widths[index]))
        .join('  ')
        .trimEnd()}\n`,
    )
  }
}
