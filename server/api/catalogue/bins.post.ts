import { inTransaction } from '~~/server/services/company/command'
import { createBin } from '~~/server/services/catalogue/references'
import { NewBin } from '~~/shared/catalogue'

export default route('catalogue', async (event, actor) => {
  const edit = input(NewBin, await readBody(event))
  return inTransaction(tx => createBin(tx, actor, edit))
})
