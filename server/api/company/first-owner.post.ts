import { inTransaction } from '~~/server/database/transactions'
import { beginCompany } from '~~/server/services/company/set-up'
import { beginSession } from '~~/server/services/people/sessions'
import { requireStrong } from '~~/server/services/people/passwords'
import { FirstOwner } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const first = input(FirstOwner, await readBody(event))
  requireSetUpCode(first.setUpCode)
  requireStrong(first.password, [first.name, first.email, first.company])
  const { person, token } = await inTransaction(async (tx) => {
    const begun = await beginCompany(tx, first)
    return { person: begun, token: await beginSession(tx, begun.id, whenceOf(event)) }
  })
  await replaceUserSession(event, { user: { id: person.id }, secure: { token } })
  return person
})
