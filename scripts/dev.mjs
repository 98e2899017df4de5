import { randomBytes } from 'node:crypto'
import { spawn } from 'node:child_process'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { ensureDebian, ensurePackages } from './lib/packages.mjs'
import { startPostgres } from './lib/postgres.mjs'
import { freePort } from './lib/run.mjs'
import { orStop, say } from './lib/say.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))

await orStop(main())

/** `npm run dev`: the application on a database of its own, with the demo; what is changed is seen at once. */
async function main() {
  ensureDebian({ postgres: !process.env.DATABASE_URL })
  await ensurePackages(root)
  say('Starting PostgreSQL')
  const postgres = process.env.DATABASE_URL ? null : await startPostgres({ root, name: 'dev-postgres' })
  const port = process.env.PORT ?? String(await freePort())
  say('Starting the application; the first time, the demo company is loaded')
  const child = spawn(
    process.execPath,
    [path.join(root, 'node_modules/nuxt/bin/nuxt.mjs'), 'dev', '--port', port, '--host', '127.0.0.1'],
    {
      cwd: root,
      stdio: 'inherit',
      env: {
        ...process.env,
        NUXT_TELEMETRY_DISABLED: '1',
        DATABASE_URL: process.env.DATABASE_URL ?? postgres.url('tsumiki_dev'),
        TSUMIKI_BEGIN: 'demo',
        NUXT_SESSION_PASSWORD: randomBytes(32).toString('hex'),
      },
    },
  )
  let stopping = null
  const stop = (code) =>
    (stopping ??= (async () => {
      child.kill('SIGTERM')
      await postgres?.stop()
      process.exit(code)
    })())
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) {
    process.on(signal, () => stop(0))
  }
  child.once('exit', (code) => stop(code ?? 0))
}
