import { inTransaction } from '~~/server/services/company/command'
import { addPerson } from '~~/server/services/company/set-up'
import { NewPerson } from '~~/shared/people'

export default route('people', async (event) => {
  const edit = input(NewPerson, await readBody(event))
  return inTransaction((tx) => addPerson(tx, edit))
})
