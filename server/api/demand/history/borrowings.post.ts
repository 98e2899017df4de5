import { inTransaction } from '~~/server/services/company/command'
import { borrowHistory } from '~~/server/services/demand/history'
import { NewBorrowing } from '~~/shared/history'

export default route('demand', async (event, actor) => {
  const edit = input(NewBorrowing, await readBody(event))
  return inTransaction((tx) => borrowHistory(tx, actor, edit))
})
