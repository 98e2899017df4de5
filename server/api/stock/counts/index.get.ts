import { listCounts } from '~~/server/services/stock/count-queries'

export default route('see', async (event) => {
  void event
  return listCounts()
})
