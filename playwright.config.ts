import { defineConfig } from '@playwright/test'

const quiet = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
]

/** `npm test` starts the built servers and says where they are. */
export default defineConfig({
  testDir: 'tests/browser',
  outputDir: process.env.PLAYWRIGHT_OUTPUT ?? 'test-results',
  workers: 1,
  timeout: 240_000,
  expect: { timeout: 40_000 },
  reporter: [['list'], ['./tests/browser-closing-line.ts']],
  use: {
    baseURL: process.env.TSUMIKI_URL,
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    launchOptions: { executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium', args: quiet },
  },
})
