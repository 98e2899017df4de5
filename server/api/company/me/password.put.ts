import { inTransaction } from '~~/server/database/transactions'
import { changePassword, requireOwnPassword } from '~~/server/services/people/own-sign-in'
import { PasswordChange } from '~~/shared/company/people'

export default sessionRoute('see', async (event, session, { address }) => {
  const { current, password } = input(PasswordChange, await readBody(event))
  await requireOwnPassword(session, current, address, 'current')
  return inTransaction((tx) => changePassword(tx, session, password, address))
})
