import { once } from '~~/server/database/transactions'
import { unkit } from '~~/server/services/workshop/unkit'
import { Unkit } from '~~/shared/workshop/requests'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(Unkit, await readBody(event))
  return once(actor, key, (tx) => unkit(tx, actor, edit))
})
