import { setMany } from '~~/server/services/catalogue/set-many'
import { inTransaction } from '~~/server/services/company/command'
import { SetMany } from '~~/shared/catalogue'

export default route('catalogue', async (event, actor) => {
  const edit = input(SetMany, await readBody(event))
  return inTransaction((tx) => setMany(tx, actor, edit))
})
