import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'

export interface Cluster {
  readonly bin: string
  url(database: string): string
  urls(database: string): { readonly databaseUrl: string; readonly ownerUrl: string }
  has(database: string): boolean
  stop(): Promise<void>
}
export interface Server {
  readonly child: { readonly pid?: number }
  stop(): Promise<void>
}
interface Scripts {
  startPostgres(options: { root: string }): Promise<Cluster>
  startServer(options: object): Promise<Server>
  freePort(): Promise<number>
  ensurePackages(root: string): Promise<void>
  ensureBuild(root: string): void
}

/** The scripts that start PostgreSQL and the built application. */
export async function scripts(): Promise<Scripts> {
  const from = async (file: string): Promise<object> => (await import(path.resolve('scripts/lib', file))) as object
  return {
    ...(await from('postgres.mjs')),
    ...(await from('server.mjs')),
    ...(await from('run.mjs')),
    ...(await from('packages.mjs')),
    ...(await from('build.mjs')),
  } as Scripts
}

/** A folder for a cluster of one's own, and how it is cleared away. */
export function ownFolder(name: string): { folder: string; clear(): void } {
  const folder = mkdtempSync(path.join(tmpdir(), `tsumiki-${name}-`))
  chmodSync(folder, 0o755)
  return { folder, clear: () => rmSync(folder, { recursive: true, force: true }) }
}

/** Runs something with a server and a database of its own, which hold the demo; both are gone afterwards. */
export async function withOwnServer(
  name: string,
  act: (base: string, databaseUrl: string) => Promise<void>,
): Promise<void> {
  const { startPostgres, startServer, freePort } = await scripts()
  const { folder, clear } = ownFolder(name)
  const cluster = await startPostgres({ root: folder })
  try {
    const port = await freePort()
    const server = await startServer({
      root: process.cwd(),
      ...cluster.urls(name),
      port,
      sessionPassword: `a throw-away password of the ${name} test`,
      begin: 'demo',
      stdio: ['ignore', 'ignore', 'ignore'],
    })
    try {
      await act(`http://127.0.0.1:${port}`, cluster.url(name))
    } finally {
      await server.stop()
    }
  } finally {
    await cluster.stop()
    clear()
  }
}
