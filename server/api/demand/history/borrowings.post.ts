import { inTransaction } from '~~/server/database/transactions'
import { borrowHistory } from '~~/server/services/demand/history'
import { NewBorrowing } from '~~/shared/demand/history'

export default route('demand', async (event, actor) => {
  const edit = input(NewBorrowing, await readBody(event))
  return inTransaction((tx) => borrowHistory(tx, actor, edit))
})
