import { randomUUID } from 'node:crypto'
import type { H3Event } from 'h3'
import { log } from '~~/server/utils/log'
import { requestSeconds } from '~~/server/utils/metrics'

interface Noted {
  requestId: string
  begunAt: number
}
const NANOSECONDS = 1e9

/** Notes every request: who asked what, how it ended, and how long it took; never what it held. */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('request', (event) => {
    const noted: Noted = { requestId: requestIdOf(event), begunAt: Number(process.hrtime.bigint()) }
    Object.assign(event.context, noted)
    setResponseHeader(event, 'x-request-id', noted.requestId)
  })
  nitro.hooks.hook('afterResponse', (event) => {
    if (!event.path.startsWith('/api/')) {
      return
    }
    const { requestId, begunAt, who, matchedRoute } = event.context as unknown as Noted & {
      who?: number
      matchedRoute?: { path: string }
    }
    const seconds = (Number(process.hrtime.bigint()) - begunAt) / NANOSECONDS
    const status = getResponseStatus(event)
    const route = matchedRoute?.path ?? 'none'
    requestSeconds.observe({ method: event.method, route, status }, seconds)
    const line = { id: requestId, who, method: event.method, route, status, ms: Math.round(seconds * 1000) }
    log[status >= 500 ? 'error' : 'info'](line, 'request')
  })
})

/** The name of a request by a proxy in front, where it is trusted; else a new one. */
function requestIdOf(event: H3Event): string {
  const given = getRequestHeader(event, 'x-request-id') ?? ''
  return isProxyTrusted() && /^[\w-]{8,64}$/.test(given) ? given : randomUUID()
}
