import { inTransaction } from '~~/server/database/transactions'
import { renewLink } from '~~/server/services/people/people'
import { IdParam } from '~~/shared/primitives'

export default sessionRoute('people', async (event, by, { address }) => {
  const { id } = input(IdParam, getRouterParams(event))
  return inTransaction((tx) => renewLink(tx, { by, address, origin: linkOrigin(event) }, id))
})
