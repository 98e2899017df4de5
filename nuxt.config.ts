import { cp } from 'node:fs/promises'
import tailwindcss from '@tailwindcss/vite'

export default defineNuxtConfig({
  modules: ['@pinia/nuxt', 'nuxt-auth-utils'],
  ssr: false,
  imports: { scan: true },
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
    session: { password: '', maxAge: 60 * 60 * 12, cookie: { secure: false, sameSite: 'lax' } },
  },
  experimental: { payloadExtraction: false },
  compatibilityDate: '2026-11-01',
  nitro: {
    exportConditions: ['module-sync'],
    typescript: { tsConfig: { include: ['../core/**/*', '../tests/server/**/*', '../bench/**/*'] } },
  },
  vite: { plugins: [tailwindcss()] },
  typescript: {
    strict: true,
    nodeTsConfig: { include: ['../tests/browser/**/*', '../tests/*.ts', '../*.config.ts', '../core/**/*'] },
  },
  telemetry: false,
  hooks: {
    'nitro:init'(nitro) {
      nitro.hooks.hook('compiled', async () => {
        const target = nitro.options.output.serverDir
        await cp('server/database/migrations', `${target}/migrations`, { recursive: true })
        await cp('demo', `${target}/demo`, { recursive: true })
        await cp('node_modules/pdfmake/fonts/Roboto', `${target}/fonts`, { recursive: true })
      })
    },
  },
})
