import { inTransaction } from '~~/server/services/company/command'
import { createCustomer } from '~~/server/services/catalogue/references'
import { NewParty } from '~~/shared/catalogue'

export default route('demand', async (event, actor) => {
  const edit = input(NewParty, await readBody(event))
  return inTransaction(tx => createCustomer(tx, actor, edit))
})
