import { inTransaction } from '~~/server/database/transactions'
import { requireOwnPassword } from '~~/server/services/people/own-sign-in'
import { beginFactor } from '~~/server/services/people/second-factor'
import { OwnPassword } from '~~/shared/company/people'

export default sessionRoute('see', async (event, session, { address }) => {
  const { password } = input(OwnPassword, await readBody(event))
  await requireOwnPassword(session, password, address)
  return inTransaction((tx) => beginFactor(tx, session.id))
})
