import { changeMethod } from '~~/server/services/books/costing'
import { rehearse } from '~~/server/database/transactions'
import { ChangeMethod } from '~~/shared/books/requests'

export default route('books', async (event, actor) => {
  const edit = input(ChangeMethod, await readBody(event))
  return rehearse((tx) => changeMethod(tx, actor, edit))
})
