import fs from 'node:fs'
import os from 'node:os'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureBuild } from './lib/build.mjs'
import { chromiumPath, ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { freePort, quietly, run, runKept } from './lib/run.mjs'
import { orStop, say } from './lib/say.mjs'
import { startServer } from './lib/server.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const files = process.argv.slice(3)
const bin = (name) => path.join(root, 'node_modules/.bin', name)
const env = { ...process.env, NUXT_TELEMETRY_DISABLED: '1', FORCE_COLOR: '0', NO_COLOR: '1' }
// Companies of the tests are backed up too, but never among those of this folder's own.
process.env.BACKUP_DIR = fs.mkdtempSync(path.join(os.tmpdir(), 'tsumiki-test-backups-'))
process.on('exit', () => fs.rmSync(process.env.BACKUP_DIR, { recursive: true, force: true }))
const totals = { passed: 0, failed: 0, skipped: 0 }
const slow = []

const only = process.argv[2]
await orStop(only === 'check' ? check() : everything())
sayTheSlowest()
process.stdout.write(`\n${totals.passed} passed, ${totals.failed} failed, ${totals.skipped} skipped\n`)
process.exit(totals.failed > 0 ? 1 : 0)

/** Types, lint with the floors, and core's tests: what a change is tried with while it is written. */
async function check() {
  await ensurePackages(root)
  quietly(bin('nuxt'), ['prepare'], { cwd: root, env })
  // The types keep one core busy for as long as everything else here keeps another.
  await Promise.all([
    counted('Types', bin('nuxt'), ['typecheck']),
    (async () => {
      await counted('Lint', bin('eslint'), [
        '--cache',
        '--cache-location',
        'node_modules/.cache/eslint/',
        '--max-warnings',
        '0',
        '.',
      ])
      await counted('Layout', bin('prettier'), ['--check', '--log-level', 'warn', '.'])
      await suite(
        'Core tests',
        bin('vitest'),
        ['run', '--project', 'core'],
        only === 'check' ? { QUICK_PROPERTIES: '1' } : {},
      )
    })(),
  ])
}

async function everything() {
  ensureDebian({ chromium: true, nginx: true })
  await ensurePackages(root)
  ensureBuild(root)
  if (!only) {
    await check()
  }
  say('Starting a throw-away database')
  const postgres = await startPostgres({ root, name: 'test-postgres' })
  try {
    if (only !== 'browser') {
      await serverTests(postgres)
    }
    if (only !== 'server') {
      await browserTests(postgres)
    }
  } finally {
    await postgres.stop()
  }
}

/** Each half has a database of its own, and keeps about one core busy; a single file cannot be halved. */
async function serverTests(postgres) {
  const half = (number, of) => {
    const database = `server_tests_${number}`
    postgres.drop(database)
    return suite(
      `Server tests, half ${number}`,
      bin('vitest'),
      ['run', '--project', 'server', `--shard=${number}/${of}`, ...files],
      { DATABASE_URL: postgres.url(database) },
    )
  }
  await (files.length === 1 ? half(1, 1) : Promise.all([half(1, 2), half(2, 2)]))
}

/** Each half of the files has servers of its own, with the demo and with an empty company; some files are not halved. */
async function browserTests(postgres) {
  say('Starting servers for the browser tests: the demo, and an empty company')
  const servers = []
  const start = async (database, begin) => {
    const port = await freePort()
    postgres.drop(database)
    servers.push(
      await startServer({
        root,
        port,
        ...postgres.urls(database),
        sessionPassword: 'a throw-away password of the tests',
        begin,
        setUpCode: 'TEST-CODE',
      }),
    )
    return `http://127.0.0.1:${port}`
  }
  try {
    const halves = []
    for (const half of files.length === 0 ? [1, 2] : [1]) {
      halves.push({
        half,
        urls: {
          TSUMIKI_URL: await start(`browser_tests_${half}`, 'demo'),
          TSUMIKI_EMPTY_URL: await start(`browser_tests_empty_${half}`, 'empty'),
          PLAYWRIGHT_OUTPUT: `test-results/half-${half}`,
        },
      })
    }
    await Promise.all(
      halves.map(({ half, urls }) =>
        suite(
          `Browser tests, half ${half}`,
          bin('playwright'),
          ['test', `--shard=${half}/${halves.length}`, ...files],
          { ...urls, CHROMIUM: chromiumPath() },
        ),
      ),
    )
  } finally {
    for (const server of servers) {
      await server.stop()
    }
  }
}

/** A check that passes or fails as a whole counts as one. */
async function counted(name, command, args) {
  say(name)
  const code = await run(command, args, { cwd: root, env })
  if (code === 0) {
    totals.passed++
  } else {
    totals.failed++
  }
}

/** A runner whose closing line is added to the total; one that ends without a line has failed. */
async function suite(name, command, args, more = {}) {
  say(name)
  const { code, text } = await runKept(command, args, { cwd: root, env: { ...env, ...more } })
  for (const [, seconds, test] of text.matchAll(/^slow: ([\d.]+) s {2}(.+)$/gm)) {
    slow.push({ seconds: Number(seconds), test })
  }
  const line = [...text.matchAll(/^(\d+) passed, (\d+) failed, (\d+) skipped$/gm)].at(-1)
  if (!line) {
    totals.failed++
    return
  }
  totals.passed += Number(line[1])
  totals.failed += Math.max(Number(line[2]), code === 0 ? 0 : 1)
  totals.skipped += Number(line[3])
}

/** The ten tests that took longest, of all suites. */
function sayTheSlowest() {
  const slowest = slow.sort((a, b) => b.seconds - a.seconds).slice(0, 10)
  if (slowest.length > 0) {
    const lines = slowest.map(({ seconds, test }) => `${seconds.toFixed(1).padStart(7)} s  ${test}`)
    process.stdout.write(`\nThe slowest:\n${lines.join('\n')}\n`)
  }
}
