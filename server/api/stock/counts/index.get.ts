import { listCounts } from '~~/server/services/stock/counts'

export default route('see', async (event) => {
  void event
  return listCounts()
})
