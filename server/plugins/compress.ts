import { promisify } from 'node:util'
import { gzip } from 'node:zlib'

const compress = promisify(gzip)
/** Shorter answers fit one packet as they are. */
const LEAST_BYTES = 1400

const isPlain = (body: unknown): body is object =>
  typeof body === 'object' && body !== null && (Array.isArray(body) || Object.getPrototypeOf(body) === Object.prototype)

/** Answers of the interface go over the wire compressed, in a thread of Node's own; files are compressed when built. */
export default defineNitroPlugin((nitro) => {
  nitro.hooks.hook('beforeResponse', async (event, response) => {
    const accepted = getRequestHeader(event, 'accept-encoding') ?? ''
    if (!event.path.startsWith('/api/') || event.method === 'HEAD' || !isPlain(response.body)) {
      return
    }
    appendResponseHeader(event, 'vary', 'accept-encoding')
    const text = JSON.stringify(response.body)
    if (!/\bgzip\b/.test(accepted) || text.length < LEAST_BYTES) {
      return
    }
    if (!getResponseHeader(event, 'content-type')) {
      setResponseHeader(event, 'content-type', 'application/json')
    }
    setResponseHeader(event, 'content-encoding', 'gzip')
    response.body = await compress(text)
  })
})
