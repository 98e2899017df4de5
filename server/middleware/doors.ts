import type { H3Event } from 'h3'
import { Refusal } from '~~/server/utils/refusal'

const CHANGING = new Set(['POST', 'PUT', 'PATCH', 'DELETE'])
const MEGABYTE = 1024 * 1024
const MOST = 1 * MEGABYTE
/** Where files come in, as text within JSON: a third more than the 20 MB that a file may have. */
const FILES =
  /^\/api\/(?:catalogue\/(?:batches|pictures|pictures\/of-items|holidays\/file)|company\/(?:import|table-file)|stock\/counts\/\d+\/file)$/
const MOST_WITH_FILES = 28 * MEGABYTE

/**
 * What every request that changes something must be: from a page of ours, of the kind that is read here, and of a
 * bearable size. It is refused before any of it is read.
 */
export default defineEventHandler((event) => {
  if (!event.path.startsWith('/api/') || !CHANGING.has(event.method)) {
    return
  }
  const refusal = foreignOrigin(event) ?? wrongType(event) ?? tooLarge(event)
  if (refusal) {
    // What was not read is not waited for: the connection ends with the answer.
    setResponseHeader(event, 'connection', 'close')
    return answerProblem(event, refusal.problem)
  }
})

/** Browsers say which page asks; scripts, which carry no cookie that others could misuse, say nothing. */
function foreignOrigin(event: H3Event): Refusal | null {
  const origin = getRequestHeader(event, 'origin')
  const site = getRequestHeader(event, 'sec-fetch-site')
  const isForeign =
    origin === undefined ? site !== undefined && site !== 'same-origin' && site !== 'none' : !isOwnOrigin(event, origin)
  return isForeign
    ? new Refusal('foreign-origin', 'Only pages of this Tsumiki may change something in it. Nothing was changed.')
    : null
}

const hasBody = (event: H3Event): boolean =>
  getRequestHeader(event, 'transfer-encoding') !== undefined ||
  Number(getRequestHeader(event, 'content-length') ?? 0) > 0

function wrongType(event: H3Event): Refusal | null {
  const type = getRequestHeader(event, 'content-type') ?? ''
  return hasBody(event) && !/^application\/json\s*(?:;|$)/i.test(type)
    ? new Refusal('wrong-type', 'Only JSON is read here (application/json).')
    : null
}

function tooLarge(event: H3Event): Refusal | null {
  const length = Number(getRequestHeader(event, 'content-length') ?? 0)
  if (getRequestHeader(event, 'transfer-encoding') !== undefined) {
    return new Refusal('too-large', 'Say how long the body is (Content-Length); nothing was read.')
  }
  const most = FILES.test(event.path.split('?')[0]!) ? MOST_WITH_FILES : MOST
  return length > most
    ? new Refusal('too-large', `This is larger than the ${most / MEGABYTE} MB that are read here. Nothing was read.`)
    : null
}
