import { fileURLToPath } from 'node:url'
import { inThread } from './lib/bench-thread.mjs'
import { loadBundled } from './lib/bundle.mjs'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { orStop, Stop } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const BENCHES = [
  'units',
  'structure',
  'cutting',
  'forecasting',
  'planning',
  'promises',
  'snapshot',
  'ledger',
  'stock',
  'catalogue',
  'pages',
  'attacks',
  'requests',
  'backup',
]
const WITH_DATABASE = [
  'planning',
  'snapshot',
  'ledger',
  'stock',
  'catalogue',
  'structure',
  'pages',
  'attacks',
  'requests',
  'backup',
]
const IN_THREAD = ['planning', 'snapshot']
const COLUMNS = { bench: 12, figure: 64, value: 10, unit: 14, ratio: 8, 'compared with': 0 }

await orStop(main())

/**
 * `npm run bench [-- NAME] [--json]`: a row a figure as it is measured, beside what it is compared with in the same
 * run.
 */
async function main() {
  const asJson = process.argv.includes('--json')
  const [name] = process.argv.slice(2).filter((word) => !word.startsWith('--'))
  if (name && !BENCHES.includes(name)) {
    throw new Stop(`There is no bench “${name}”. There are: ${BENCHES.join(', ')}.`)
  }
  ensureDebian()
  await ensurePackages(root)
  const figures = []
  if (!asJson) {
    print(Object.keys(COLUMNS))
  }
  for (const bench of name ? [name] : BENCHES) {
    await measure(bench, (figure) => {
      figures.push(figure)
      if (!asJson) {
        print(cellsOf(figure))
      }
    })
  }
  if (asJson) {
    process.stdout.write(`${JSON.stringify(figures, null, 1)}\n`)
  }
}

async function measure(bench, onFigure) {
  const postgres = WITH_DATABASE.includes(bench) ? await startPostgres({ root, name: 'test-postgres' }) : null
  try {
    if (postgres) {
      postgres.drop('bench')
      process.env.DATABASE_URL = postgres.url('bench')
    }
    if (IN_THREAD.includes(bench)) {
      await inThread(root, bench, onFigure)
      return
    }
    const { run } = await loadBundled(root, `bench/${bench}.ts`)
    for await (const figure of run({ root })) {
      onFigure(figure)
    }
  } finally {
    await postgres?.stop()
  }
}

function cellsOf({ bench, figure, value, unit, ratio, comparedWith }) {
  return [bench, figure, value.toPrecision(4), unit, ratio.toPrecision(3), comparedWith]
}

function print(cells) {
  const widths = Object.values(COLUMNS)
  process.stdout.write(
    `${cells
      .map((cell, index) => cell.padEnd(widths[index]))
      .join('  ')
      .trimEnd()}\n`,
  )
}
