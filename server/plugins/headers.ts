import { createHash } from 'node:crypto'

/** What browsers keep to on every answer. */
const HEADERS = {
  'x-content-type-options': 'nosniff',
  'x-frame-options': 'DENY',
  'referrer-policy': 'same-origin',
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': 'same-origin',
  'permissions-policy': 'camera=(), geolocation=(), microphone=(), payment=(), usb=()',
} as const
const YEAR = 365 * 24 * 60 * 60

/** Scripts and connections of our own only; the chart library writes its styles into the page. */
const POLICY = [
  "default-src 'self'",
  "style-src 'self' 'unsafe-inline'",
  "img-src 'self' data: blob:",
  "font-src 'self' data:",
  "object-src 'none'",
  "base-uri 'self'",
  "form-action 'self'",
  "frame-ancestors 'none'",
]

/** The scripts that stand in the page itself, each allowed by its digest. */
function inlineScripts(html: string): string[] {
  return [...html.matchAll(/<script(?![^>]*\ssrc=)([^>]*)>([\s\S]*?)<\/script>/g)]
    .filter(([, attributes]) => !/type="application\/json"/.test(attributes!))
    .map(([, , script]) => `'sha256-${createHash('sha256').update(script!).digest('base64')}'`)
}

export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('request', (event) => {
    setResponseHeaders(event, HEADERS)
    if (process.env.PUBLIC_URL?.startsWith('https:')) {
      setResponseHeader(event, 'strict-transport-security', `max-age=${YEAR}`)
    }
    if (event.path.startsWith('/api/')) {
      setResponseHeader(event, 'cache-control', 'no-store')
      setResponseHeader(event, 'content-security-policy', "default-src 'none'; frame-ancestors 'none'")
    }
  })
  // The development server writes scripts of its own into the page.
  if (import.meta.dev) {
    return
  }
  nitro.hooks.hook('render:response', (response, { event }) => {
    if (typeof response.body === 'string') {
      const scripts = ["script-src 'self'", ...inlineScripts(response.body)].join(' ')
      setResponseHeader(event, 'content-security-policy', [...POLICY, scripts].join('; '))
    }
  })
})
