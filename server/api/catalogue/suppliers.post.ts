import { inTransaction } from '~~/server/services/company/command'
import { createSupplier } from '~~/server/services/catalogue/references'
import { NewParty } from '~~/shared/catalogue'

export default route('catalogue', async (event, actor) => {
  const edit = input(NewParty, await readBody(event))
  return inTransaction(tx => createSupplier(tx, actor, edit))
})
