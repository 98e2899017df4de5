import { inTransaction } from '~~/server/database/transactions'
import { changePerson } from '~~/server/services/people/people'
import { PersonEdit } from '~~/shared/company/people'
import { IdParam } from '~~/shared/primitives'

export default sessionRoute('people', async (event, by, { address }) => {
  const { id } = input(IdParam, getRouterParams(event))
  const edit = input(PersonEdit, await readBody(event))
  return inTransaction((tx) => changePerson(tx, { by, address }, id, edit))
})
