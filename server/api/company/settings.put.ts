import { inTransaction } from '~~/server/database/transactions'
import { changeSettings } from '~~/server/services/company/settings'
import { CompanySettings } from '~~/shared/company/settings'

export default route('people', async (event, actor) => {
  const edit = input(CompanySettings, await readBody(event))
  return inTransaction((tx) => changeSettings(tx, actor, edit))
})
