import { loadTransfer } from '~~/server/services/stock/transfer-queries'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadTransfer(id)
})
