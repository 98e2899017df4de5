import { once } from '~~/server/database/transactions'
import { changeStandard } from '~~/server/services/books/costing'
import { ApplyStandard } from '~~/shared/books/requests'

export default route('books', async (event, actor) => {
  const { key, ...edit } = input(ApplyStandard, await readBody(event))
  return once(actor, key, (tx) => changeStandard(tx, actor, edit))
})
