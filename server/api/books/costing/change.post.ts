import { once } from '~~/server/database/transactions'
import { changeMethod } from '~~/server/services/books/costing'
import { ApplyMethod } from '~~/shared/books/requests'

export default route('books', async (event, actor) => {
  const { key, ...edit } = input(ApplyMethod, await readBody(event))
  return once(actor, key, (tx) => changeMethod(tx, actor, edit))
})
