import { cp, writeFile } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'
import tailwindcss from '@tailwindcss/vite'
import { build } from 'esbuild'
import { version } from './package.json'
import { describeApi } from './scripts/openapi'

/** Parts of the kit that bring a large library along: charts, the calendar. */
const LOADED_WHEN_NEEDED = /components\/ui\/(?:Calendar|Chart)\.vue/
/** Packages that every page needs, or that the kit is made of. */
const KIT_PACKAGES = [
  ...['@headlessui', '@tanstack/vue-virtual', '@tanstack/virtual-core', '@floating-ui', '@vueuse', '@lucide'],
  ...[
    'vue',
    '@vue',
    'vue-router',
    'pinia',
    'unhead',
    '@unhead',
    'nuxt/dist/app/components',
    'nuxt/dist/app/composables',
  ],
]
const LIST_PACKAGES = ['@tanstack/vue-table', '@tanstack/table-core', '@tanstack/store']
const within = (packages: readonly string[]): RegExp =>
  new RegExp(`node_modules/(?:${packages.map((name) => name.replaceAll('/', '\\/')).join('|')})/`)
/** What travels together, by where it lies; the first that fits. */
const CHUNKS: readonly (readonly [name: string, files: RegExp])[] = [
  ['guide', /docs\/guide\//],
  ['company', /app\/(?:pages|components)\/company\//],
  ['lists', /components\/(?:ui\/(?:Data\w+|Grid)|goods\/BalanceWeeks)\.vue|composables\/ui\/use-data-table/],
  ['lists', within(LIST_PACKAGES)],
  ['kit', /app\/(?:components\/(?:ui|goods)|composables\/ui|stores)\//],
  ['kit', within(KIT_PACKAGES)],
]
const chunkOf = (id: string): string | undefined =>
  LOADED_WHEN_NEEDED.test(id) ? undefined : CHUNKS.find(([, files]) => files.test(id))?.[0]

export default defineNuxtConfig({
  modules: ['@pinia/nuxt', 'nuxt-auth-utils'],
  ssr: false,
  imports: { dirs: ['~/composables/**'] },
  // Who is signed in is asked once, with the company.
  auth: { loadStrategy: 'none' },
  devtools: { enabled: false },
  app: {
    head: {
      htmlAttrs: { lang: 'en' },
      title: 'Tsumiki',
      viewport: 'width=device-width, initial-scale=1',
      link: [{ rel: 'icon', type: 'image/svg+xml', href: '/tsumiki.svg' }],
    },
  },
  css: ['@fontsource-variable/figtree', '~/assets/main.css'],
  runtimeConfig: {
    // How long a session lasts is kept with it in the database; the cookie only has to outlive the longest.
    session: { password: '', maxAge: 60 * 60 * 24 * 366, cookie: { secure: false, sameSite: 'lax' } },
  },
  experimental: {
    payloadExtraction: false,
    defaults: { nuxtLink: { prefetchOn: { visibility: false, interaction: true } } },
  },
  compatibilityDate: '2026-11-01',
  nitro: {
    exportConditions: ['module-sync'],
    compressPublicAssets: { gzip: true, brotli: true },
    esbuild: { options: { target: 'es2022' } },
    typescript: { tsConfig: { include: ['../core/**/*', '../tests/server/**/*', '../bench/**/*'] } },
  },
  $development: {
    nitro: {
      // Looking for unused code is a third of the time until a changed file is seen; these shorten it.
      rollupConfig: {
        output: {},
        treeshake: {
          moduleSideEffects: true,
          propertyReadSideEffects: false,
          tryCatchDeoptimization: false,
          unknownGlobalSideEffects: false,
        },
      },
    },
  },
  vite: {
    plugins: [tailwindcss()],
    // Its packed form asks for all of Vue, with the compiler; its source for what it uses.
    resolve: { alias: { vuedraggable: 'vuedraggable/src/vuedraggable.js' } },
    // A page is made of some seventy modules that others use too. As chunks of their own each costs a request: the kit,
    // which every page uses, is one, and small ones travel together with their neighbours.
    build: {
      rollupOptions: {
        output: {
          manualChunks: chunkOf,
          // Nuxt builds with Rollup, which has this; the types at hand are of its successor, which has not.
          ...({ experimentalMinChunkSize: 30_000 } as object),
        },
      },
    },
  },
  typescript: {
    strict: true,
    nodeTsConfig: { include: ['../tests/browser/**/*', '../tests/*.ts', '../*.config.ts', '../core/**/*'] },
  },
  telemetry: false,
  hooks: {
    // The first page loads what it shows; other pages come when somebody points at their link. The face of the letters
    // comes at once.
    'build:manifest'(manifest) {
      for (const entry of Object.values(manifest)) {
        entry.prefetch = false
        entry.dynamicImports = []
        if (/figtree-latin-wght-normal.*\.woff2$/.test(entry.file)) {
          entry.preload = true
        }
      }
    },
    // Without server rendering, Nuxt's development server asks the browser's own configuration for a server entry,
    // which is not there.
    'vite:extendConfig'(config, { isClient }) {
      const input = config.build?.rollupOptions?.input
      if (isClient && process.env.NODE_ENV === 'development' && typeof input === 'object' && !Array.isArray(input)) {
        input.server ??= input.entry!
      }
    },
    'nitro:init'(nitro) {
      // What routes there are, for the middleware that says that there is no such route, or not for this method.
      nitro.options.virtual['#api-routes'] = () => {
        const routes = nitro.scannedHandlers.filter(({ route, method }) => route?.startsWith('/api/') && method)
        return `export const API_ROUTES = ${JSON.stringify(routes.map(({ route, method }) => ({ route, method })))}`
      }
      nitro.hooks.hook('compiled', async () => {
        const target = nitro.options.output.serverDir
        await cp('server/database/migrations', `${target}/migrations`, { recursive: true })
        await cp('demo', `${target}/demo`, { recursive: true })
        // Long work runs in threads of its own, each from one file.
        await build({
          entryPoints: {
            job: 'server/jobs/job.ts',
            calendar: 'server/jobs/calendar.ts',
            workbook: 'server/jobs/workbook.ts',
            heavy: 'server/heavy/thread.ts',
          },
          outdir: `${target}/worker`,
          outExtension: { '.js': '.mjs' },
          bundle: true,
          // What only some work needs is loaded with the first of it.
          splitting: true,
          platform: 'node',
          format: 'esm',
          target: 'node20',
          alias: { '~~': fileURLToPath(new URL('.', import.meta.url)).replace(/\/$/, '') },
          // They find their own files by where they lie.
          external: ['pg-native', 'pdfmake', 'piscina'],
          logLevel: 'error',
          banner: {
            js: `import { createRequire as requireHere } from 'node:module'; const require = requireHere(import.meta.url)`,
          },
        })
        if (!nitro.options.dev) {
          const routes = nitro.scannedHandlers.flatMap(({ route, method, handler }) =>
            route?.startsWith('/api/') && method ? [{ route, method, file: handler }] : [],
          )
          const described = await describeApi(nitro.options.rootDir, routes, version)
          await writeFile(`${target}/openapi.json`, JSON.stringify(described))
        }
        await cp('node_modules/pdfmake/fonts/Roboto', `${target}/fonts`, { recursive: true })
      })
    },
  },
})
