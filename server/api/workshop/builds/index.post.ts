import { once } from '~~/server/database/transactions'
import { createBuild } from '~~/server/services/workshop/builds'
import { NewBuild } from '~~/shared/workshop/requests'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(NewBuild, await readBody(event))
  return once(actor, key, (tx) => createBuild(tx, actor, edit))
})
