import { once } from '~~/server/database/transactions'
import { createCutting } from '~~/server/services/workshop/cutting'
import { NewCutting } from '~~/shared/workshop/cutting'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(NewCutting, await readBody(event))
  return once(actor, key, (tx) => createCutting(tx, actor, edit))
})
