import { inTransaction } from '~~/server/database/transactions'
import { addPerson } from '~~/server/services/company/set-up'
import { NewPerson } from '~~/shared/company/people'

export default route('people', async (event) => {
  const edit = input(NewPerson, await readBody(event))
  return inTransaction((tx) => addPerson(tx, edit))
})
