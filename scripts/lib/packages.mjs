import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { quietly, run } from './run.mjs'
import { say, Stop } from './say.mjs'

/** The proxy that the tests put in front. */
export const NGINX = '/usr/sbin/nginx'
const CLUSTER_CONFIG = '/etc/postgresql-common/createcluster.conf'

export const hasPostgres = () =>
  Boolean(process.env.PG_BIN) ||
  (fs.existsSync('/usr/lib/postgresql') &&
    fs.readdirSync('/usr/lib/postgresql').some((v) => fs.existsSync(`/usr/lib/postgresql/${v}/bin/initdb`)))
export const chromiumPath = () =>
  [process.env.CHROMIUM, '/usr/bin/chromium', '/usr/bin/chromium-browser'].find((file) => file && fs.existsSync(file))

/**
 * Installs the Debian packages that are missing: PostgreSQL always; Chromium and nginx for the tests.
 *
 * As root or with a sudo that asks nothing; otherwise stops with the one command to run. A PostgreSQL installed here
 * gets no cluster of the system's own.
 */
export function ensureDebian({ postgres = true, chromium = false, nginx = false } = {}) {
  const wanted = [
    ['postgresql', postgres && !hasPostgres()],
    ['chromium', chromium && !chromiumPath()],
    ['nginx', nginx && !fs.existsSync(NGINX)],
  ]
    .filter(([, isMissing]) => isMissing)
    .map(([name]) => name)
  if (wanted.length === 0) {
    return
  }
  const root = process.getuid() === 0
  const sudo = !root && quietly('sudo', ['-n', 'true']).ok
  if (!root && !sudo) {
    throw new Stop(
      `Tsumiki needs ${wanted.join(' and ')}. Run this once, then start again:\n\n  sudo apt-get update && sudo apt-get install -y ${wanted.join(' ')}\n`,
    )
  }
  const apt = (...args) => {
    const command = root ? ['apt-get', ...args] : ['sudo', '-n', 'apt-get', ...args]
    const done = quietly(command[0], command.slice(1), {
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive', RUNLEVEL: '1' },
    })
    if (!done.ok) {
      throw new Stop(`${command.join(' ')} failed:\n${done.text.slice(-1500)}`)
    }
  }
  say(`Installing ${wanted.join(' and ')} from Debian's packages`)
  apt('update', '-q')
  if (wanted.includes('postgresql') && !fs.existsSync(CLUSTER_CONFIG)) {
    apt('install', '-y', '-q', 'postgresql-common')
    if (root) {
      fs.appendFileSync(CLUSTER_CONFIG, '\ncreate_main_cluster = false\n')
    } else {
      quietly('sudo', ['-n', 'sh', '-c', `echo 'create_main_cluster = false' >> ${CLUSTER_CONFIG}`])
    }
  }
  apt('install', '-y', '-q', ...wanted)
}

/** Installs the npm packages of the lock file where they are not there yet. */
export async function ensurePackages(root) {
  const lock = createHash('sha256')
    .update(fs.readFileSync(path.join(root, 'package-lock.json')))
    .digest('hex')
  const stamp = path.join(root, 'node_modules/.tsumiki-installed')
  if (fs.existsSync(stamp) && fs.readFileSync(stamp, 'utf8') === lock) {
    return
  }
  say('Installing the npm packages')
  const quiet = {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, npm_config_loglevel: 'error', npm_config_update_notifier: 'false' },
  }
  const clean = quietly('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund'], quiet)
  if (!clean.ok) {
    // The lock can lack binaries for other systems that this registry does not serve; a plain install with the same
    // lock fills in.
    const kept = fs.readFileSync(path.join(root, 'package-lock.json'))
    const code = await run('npm', ['install', '--ignore-scripts', '--no-audit', '--no-fund'], {
      ...quiet,
      stdio: ['ignore', 'ignore', 'inherit'],
    })
    fs.writeFileSync(path.join(root, 'package-lock.json'), kept)
    if (code !== 0) {
      throw new Stop(`npm could not install the packages:\n${clean.text.slice(-1500)}`)
    }
  }
  if (fs.existsSync(path.join(root, '.git')) && !process.env.CI) {
    // What is committed is looked at first; install scripts do not run here, so the hook is set up by hand.
    quietly(path.join(root, 'node_modules/.bin/simple-git-hooks'), [], { cwd: root })
  }
  fs.writeFileSync(stamp, lock)
}
