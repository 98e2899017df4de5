import { inTransaction } from '~~/server/database/transactions'
import { noteOwn, requireOwnPassword } from '~~/server/services/people/own-sign-in'
import { removeFactor } from '~~/server/services/people/second-factor'
import { OwnPassword } from '~~/shared/company/people'

export default sessionRoute('see', async (event, session, { address }) => {
  const { password } = input(OwnPassword, await readBody(event))
  await requireOwnPassword(session, password, address)
  await inTransaction(async (tx) => {
    await removeFactor(tx, session.id)
    await noteOwn(tx, session, address, 'second factor taken off')
  })
  return { off: true }
})
