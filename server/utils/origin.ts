import { hostname, networkInterfaces } from 'node:os'
import type { H3Event } from 'h3'

/** Whether what a proxy says of the request counts: only where one stands in front. */
export const isProxyTrusted = (): boolean => process.env.TRUST_PROXY === 'yes'

const setOrigin = (): string | null => (process.env.PUBLIC_URL ? new URL(process.env.PUBLIC_URL).origin : null)

const requestUrl = (event: H3Event): URL =>
  getRequestURL(event, { xForwardedHost: isProxyTrusted(), xForwardedProto: isProxyTrusted() })

/** Whether a page of this origin is one of ours: under the address that is set, or that of the request itself. */
export const isOwnOrigin = (event: H3Event, origin: string): boolean =>
  origin === setOrigin() || origin === requestUrl(event).origin

/**
 * Where the links of letters lead: the address that is set, else that of the request where it names this machine. What
 * a request says of its host can be forged, and a letter must lead nobody astray.
 */
export function linkOrigin(event: H3Event): string {
  const url = requestUrl(event)
  const own = setOrigin()
  if (own !== null) {
    return own
  }
  return isThisMachine(url.hostname) ? url.origin : `http://${hostname()}${url.port === '' ? '' : `:${url.port}`}`
}

function isThisMachine(name: string): boolean {
  const addresses = Object.values(networkInterfaces()).flatMap((found) => found ?? [])
  const plain = name.replace(/^\[(.*)\]$/, '$1').toLowerCase()
  const own = hostname().toLowerCase()
  return ['localhost', own, `${own}.local`, ...addresses.map((entry) => entry.address)].includes(plain)
}
