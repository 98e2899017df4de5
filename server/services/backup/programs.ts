import { spawn } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'
import path from 'node:path'

const BASE = '/usr/lib/postgresql'

/** Where PostgreSQL's programs are: beside the server that was started, else the newest that Debian has here. */
function folder(): string {
  if (process.env.PG_BIN) {
    return process.env.PG_BIN
  }
  const versions = existsSync(BASE)
    ? readdirSync(BASE)
        .filter((version) => existsSync(path.join(BASE, version, 'bin/pg_dump')))
        .sort((a, b) => Number(b) - Number(a))
    : []
  return versions[0] === undefined ? '/usr/bin' : path.join(BASE, versions[0], 'bin')
}

/** Runs one of PostgreSQL's programs, or `tar`, to its end. Errors: what it said, where it failed. */
export function run(program: 'pg_dump' | 'pg_restore' | 'tar', words: readonly string[]): Promise<void> {
  const command = program === 'tar' ? 'tar' : path.join(folder(), program)
  return new Promise((resolve, reject) => {
    const child = spawn(command, words, {
      stdio: ['ignore', 'ignore', 'pipe'],
      env: { ...process.env, LC_ALL: 'C.UTF-8' },
    })
    let said = ''
    child.stderr.on('data', (chunk: Buffer) => {
      said = (said + String(chunk)).slice(-2000)
    })
    child.once('error', reject)
    child.once('exit', (code) => {
      if (code === 0) {
        resolve()
      } else {
        reject(new Error(`${program} failed: ${said.trim()}`))
      }
    })
  })
}
