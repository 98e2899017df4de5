import { metrics } from '~~/server/utils/metrics'

/** Figures for a watching program, in the text format of OpenMetrics. */
export default route('people', async (event) => {
  setResponseHeader(event, 'content-type', metrics.contentType)
  return metrics.metrics()
})
