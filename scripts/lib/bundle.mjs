import fs from 'node:fs'
import path from 'node:path'
import { pathToFileURL } from 'node:url'

/** Bundles a TypeScript entry for this Node.js and loads it. */
export async function loadBundled(root, entry) {
  const { build } = await import('esbuild')
  const out = path.join(root, 'node_modules/.cache/tsumiki', `${entry.replaceAll(/[^\w]/g, '-')}.mjs`)
  fs.mkdirSync(path.dirname(out), { recursive: true })
  await build({
    entryPoints: [path.join(root, entry)],
    outfile: out,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    alias: { '~~': root.replace(/\/$/, '') },
    logLevel: 'error',
  })
  return import(pathToFileURL(out).href)
}
