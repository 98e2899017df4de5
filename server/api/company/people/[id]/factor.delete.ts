import { inTransaction } from '~~/server/database/transactions'
import { takeFactorOff } from '~~/server/services/people/people'
import { IdParam } from '~~/shared/primitives'

export default sessionRoute('people', async (event, by, { address }) => {
  const { id } = input(IdParam, getRouterParams(event))
  await inTransaction((tx) => takeFactorOff(tx, { by, address }, id))
  return { off: true }
})
