import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const root = fileURLToPath(new URL('.', import.meta.url))

export default defineConfig({
  resolve: { alias: { '~~': root.replace(/\/$/, ''), '#shared': `${root}shared` } },
  test: {
    isolate: false,
    env: { LOG_LEVEL: 'silent' },
    // A slow machine must not look like a fault: tests say what is wrong, not how fast.
    testTimeout: 900_000,
    hookTimeout: 900_000,
    reporters: ['default', './tests/closing-line.ts'],
    projects: [
      {
        extends: true,
        test: {
          name: 'core',
          include: ['core/**/*.test.ts', 'shared/**/*.test.ts', 'app/**/*.test.ts', 'tests/planning/**/*.test.ts'],
        },
      },
      {
        extends: true,
        test: {
          name: 'server',
          include: ['tests/server/**/*.test.ts'],
          setupFiles: ['./tests/server/load-reversals.ts'],
          fileParallelism: false,
        },
      },
    ],
  },
})
