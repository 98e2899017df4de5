import { inTransaction } from '~~/server/database/transactions'
import { correctHistory } from '~~/server/services/demand/history'
import { NewCorrection } from '~~/shared/demand/history'

export default route('demand', async (event, actor) => {
  const edit = input(NewCorrection, await readBody(event))
  return inTransaction((tx) => correctHistory(tx, actor, edit))
})
