import { checkReady } from '~~/server/services/company/ready'

/** Whether Tsumiki can do its work: 503 where it cannot, with what is wrong. */
export default defineEventHandler(async (event) => {
  const ready = await checkReady()
  if (!ready.ready) {
    setResponseStatus(event, 503)
  }
  return ready
})
