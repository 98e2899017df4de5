import { spawn, spawnSync } from 'node:child_process'
import { createServer } from 'node:net'

/** Runs a command to its end with its output shown; resolves with its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: 'inherit', ...options })
    child.once('error', reject)
    child.once('exit', (code, signal) => resolve(code ?? (signal ? 1 : 0)))
  })
}

/** Runs a command, shows its output as it comes, and keeps it for reading. */
export function runKept(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], ...options })
    let text = ''
    const keep = (chunk) => {
      text += chunk
      process.stdout.write(chunk)
    }
    child.stdout.on('data', keep)
    child.stderr.on('data', keep)
    child.once('error', reject)
    child.once('close', (code) => resolve({ code: code ?? 1, text }))
  })
}

/** Runs a command quietly; its output is for the caller to show where it failed. */
export function quietly(command, args, options = {}) {
  const result = spawnSync(command, args, { encoding: 'utf8', ...options })
  return { ok: result.status === 0, text: `${result.error ?? ''}${result.stdout ?? ''}${result.stderr ?? ''}` }
}

export const isPortFree = (port) =>
  new Promise((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)))
  })

export const freePort = () =>
  new Promise((resolve, reject) => {
    const server = createServer()
    server.once('error', reject)
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address()
      server.close(() => resolve(port))
    })
  })

export function isAlive(pid) {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return error.code === 'EPERM'
  }
}

export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))
