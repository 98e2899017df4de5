import { inTransaction } from '~~/server/database/transactions'
import { noteOwn } from '~~/server/services/people/own-sign-in'
import { confirmFactor } from '~~/server/services/people/second-factor'
import { FactorCode } from '~~/shared/company/people'

export default sessionRoute('see', async (event, session, { address }) => {
  const { code } = input(FactorCode, await readBody(event))
  return inTransaction(async (tx) => {
    const codes = await confirmFactor(tx, session.id, code)
    await noteOwn(tx, session, address, 'second factor put on')
    return { codes }
  })
})
