import { createHash } from 'node:crypto'
import fs from 'node:fs'
import path from 'node:path'
import { quietly } from './run.mjs'
import { say, Stop } from './say.mjs'

const SOURCES = ['app', 'server', 'shared', 'core', 'demo', 'public', 'nuxt.config.ts', 'package-lock.json']

/** Builds the application where any file it is made of has changed since the last build. */
export function ensureBuild(root) {
  const wanted = digest(root)
  const stamp = path.join(root, '.output/.tsumiki-built')
  if (fs.existsSync(stamp) && fs.readFileSync(stamp, 'utf8') === wanted) {
    return
  }
  try {
    fs.accessSync(root, fs.constants.W_OK)
  } catch {
    throw new Stop(
      `Tsumiki must be built, but this user cannot write in its folder ${root}. Start it once as the folder's owner.`,
    )
  }
  say('Building the application (about a minute)')
  const built = quietly(process.execPath, [path.join(root, 'node_modules/nuxt/bin/nuxt.mjs'), 'build'], {
    cwd: root,
    env: { ...process.env, NUXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
    maxBuffer: 1 << 28,
  })
  if (!built.ok) {
    throw new Stop(`The build failed:\n${built.text.slice(-4000)}`)
  }
  fs.writeFileSync(stamp, wanted)
}

function digest(root) {
  const hash = createHash('sha256')
  const visit = (file) => {
    if (!fs.existsSync(file)) {
      return
    }
    if (fs.statSync(file).isDirectory()) {
      for (const name of fs.readdirSync(file).sort()) {
        visit(path.join(file, name))
      }
      return
    }
    if (file.endsWith('.test.ts')) {
      return
    }
    hash.update(path.relative(root, file)).update('\0').update(fs.readFileSync(file)).update('\0')
  }
  for (const source of SOURCES) {
    visit(path.join(root, source))
  }
  return hash.digest('hex')
}
