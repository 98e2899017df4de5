import { once } from '~~/server/services/company/command'
import { createBuild } from '~~/server/services/workshop/builds'
import { NewBuild } from '~~/shared/workshop'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(NewBuild, await readBody(event))
  return once(actor, key, (tx) => createBuild(tx, actor, edit))
})
