import { setMany } from '~~/server/services/catalogue/set-many'
import { inTransaction } from '~~/server/database/transactions'
import { SetMany } from '~~/shared/catalogue/requests'

export default route('catalogue', async (event, actor) => {
  const edit = input(SetMany, await readBody(event))
  return inTransaction((tx) => setMany(tx, actor, edit))
})
