import { spawn } from 'node:child_process'
import path from 'node:path'
import { pause } from './run.mjs'
import { Stop } from './say.mjs'

/**
 * Starts the built server and waits until its database is ready. `begin`: `demo`, `empty`; `setUpCode`: what whoever
 * begins the company has to know; without one nobody can.
 * `env`: further settings.
 */
export async function startServer({
  root,
  port,
  databaseUrl,
  ownerUrl = '',
  sessionPassword,
  begin,
  setUpCode = '',
  host = '127.0.0.1',
  stdio = ['ignore', 'inherit', 'inherit'],
  env = {},
}) {
  const child = spawn(process.execPath, [path.join(root, '.output/server/index.mjs')], {
    cwd: root,
    stdio,
    env: {
      ...process.env,
      NODE_ENV: 'production',
      HOST: host,
      NITRO_HOST: host,
      PORT: String(port),
      NITRO_PORT: String(port),
      DATABASE_URL: databaseUrl,
      DATABASE_OWNER_URL: ownerUrl,
      TSUMIKI_BEGIN: begin,
      TSUMIKI_SET_UP_CODE: setUpCode,
      NUXT_SESSION_PASSWORD: sessionPassword,
      NITRO_SHUTDOWN_TIMEOUT: '2000',
      NITRO_SHUTDOWN_FORCE: 'true',
      ...ofSettings({ ...process.env, ...env }),
      ...env,
    },
  })
  const stop = async () => {
    if (child.exitCode !== null || child.signalCode !== null) {
      return
    }
    child.kill('SIGTERM')
    for (let waited = 0; child.exitCode === null && child.signalCode === null && waited < 5000; waited += 25) {
      await pause(25)
    }
    if (child.exitCode === null && child.signalCode === null) {
      child.kill('SIGKILL')
    }
  }
  for (let tries = 0; tries < 1200; tries++) {
    if (child.exitCode !== null) {
      throw new Stop('The server did not start; its own words are above.')
    }
    const answer = await fetch(`http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}/api/health/ready`)
      .then((r) => r.json())
      .catch(() => null)
    if (answer?.ready) {
      return { child, stop }
    }
    if (answer?.isFinal) {
      await stop()
      throw new Stop(`The database could not be prepared: ${answer.detail}`)
    }
    await pause(100)
  }
  await stop()
  throw new Stop('The server was not ready after two minutes.')
}

/** What follows from settings: cookies of an https address are secure, and without a place for a log none is written. */
function ofSettings({ PUBLIC_URL = '', LOG_DIR, LOG_LEVEL }) {
  return {
    NUXT_SESSION_COOKIE_SECURE: String(PUBLIC_URL.startsWith('https:')),
    LOG_LEVEL: LOG_LEVEL ?? (LOG_DIR ? 'info' : 'silent'),
  }
}
