import { inTransaction } from '~~/server/database/transactions'
import { setLimits } from '~~/server/services/books/periods'
import { Limits } from '~~/shared/books/requests'

export default route('people', async (event, actor) => {
  const { limits } = input(Limits, await readBody(event))
  return inTransaction((tx) => setLimits(tx, actor, limits))
})
