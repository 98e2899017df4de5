import { inTransaction } from '~~/server/services/company/command'
import { setLimits } from '~~/server/services/books/periods'
import { Limits } from '~~/shared/books'

export default route('people', async (event, actor) => {
  const { limits } = input(Limits, await readBody(event))
  return inTransaction((tx) => setLimits(tx, actor, limits))
})
