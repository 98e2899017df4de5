import { inTransaction } from '~~/server/database/transactions'
import { closeBooks } from '~~/server/services/books/periods'
import { CloseBooks } from '~~/shared/books/requests'

export default route('books', async (event, actor) => {
  const { through } = input(CloseBooks, await readBody(event))
  return inTransaction((tx) => closeBooks(tx, actor, through))
})
