import { inTransaction } from '~~/server/database/transactions'
import { choosePassword } from '~~/server/services/people/password-links'
import { PasswordByLink } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const chosen = input(PasswordByLink, await readBody(event))
  const { email } = await inTransaction((tx) => choosePassword(tx, chosen, whenceOf(event)))
  return { email }
})
