import { changeStandard } from '~~/server/services/books/costing'
import { rehearse } from '~~/server/database/transactions'
import { NewStandard } from '~~/shared/books/requests'

export default route('books', async (event, actor) => {
  const edit = input(NewStandard, await readBody(event))
  return rehearse((tx) => changeStandard(tx, actor, edit))
})
