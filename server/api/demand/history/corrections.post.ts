import { inTransaction } from '~~/server/services/company/command'
import { correctHistory } from '~~/server/services/demand/history'
import { NewCorrection } from '~~/shared/history'

export default route('demand', async (event, actor) => {
  const edit = input(NewCorrection, await readBody(event))
  return inTransaction((tx) => correctHistory(tx, actor, edit))
})
