import { inTransaction } from '~~/server/database/transactions'
import { sendForgotten } from '~~/server/services/people/password-links'
import { countLetter } from '~~/server/services/people/tries'
import { Forgotten } from '~~/shared/company/people'

export default openRoute(async (event) => {
  const { email } = input(Forgotten, await readBody(event))
  const from = whenceOf(event)
  await countLetter(email.toLowerCase(), from.address)
  await inTransaction((tx) => sendForgotten(tx, email, from, linkOrigin(event)))
  return { asked: true }
})
