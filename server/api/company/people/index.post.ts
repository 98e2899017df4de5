import { inTransaction } from '~~/server/database/transactions'
import { invite } from '~~/server/services/people/people'
import { Invitation } from '~~/shared/company/people'

export default sessionRoute('people', async (event, by, { address }) => {
  const invitation = input(Invitation, await readBody(event))
  return inTransaction((tx) => invite(tx, { by, address, origin: linkOrigin(event) }, invitation))
})
