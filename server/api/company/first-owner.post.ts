import { inTransaction } from '~~/server/database/transactions'
import { beginCompany } from '~~/server/services/company/set-up'
import { FirstOwner } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const first = input(FirstOwner, await readBody(event))
  const person = await inTransaction((tx) => beginCompany(tx, first))
  await setUserSession(event, { user: { id: person.id } })
  return person
})
