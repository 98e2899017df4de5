import type { H3Event } from 'h3'

/** Whether what a proxy says of the request counts: only where one stands in front. */
export const isProxyTrusted = (): boolean => process.env.TRUST_PROXY === 'yes'

/** Under which address people see Tsumiki: the setting, else that of the request. */
export const publicOrigin = (event: H3Event): string =>
  process.env.PUBLIC_URL
    ? new URL(process.env.PUBLIC_URL).origin
    : getRequestURL(event, { xForwardedHost: isProxyTrusted(), xForwardedProto: isProxyTrusted() }).origin
