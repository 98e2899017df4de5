import { inTransaction } from '~~/server/services/company/command'
import { createGroup } from '~~/server/services/catalogue/references'
import { NewGroup } from '~~/shared/catalogue'

export default route('catalogue', async (event, actor) => {
  const edit = input(NewGroup, await readBody(event))
  return inTransaction(tx => createGroup(tx, actor, edit))
})
