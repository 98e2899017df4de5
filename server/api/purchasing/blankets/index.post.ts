import { once } from '~~/server/database/transactions'
import { createBlanket } from '~~/server/services/purchasing/blankets/create-blanket'
import { NewBlanket } from '~~/shared/purchasing/blankets'

export default route('buy', async (event, actor) => {
  const { key, ...edit } = input(NewBlanket, await readBody(event))
  return once(actor, key, (tx) => createBlanket(tx, actor, edit))
})
