import { once } from '~~/server/services/company/command'
import { createCutting } from '~~/server/services/workshop/cutting'
import { NewCutting } from '~~/shared/cutting'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(NewCutting, await readBody(event))
  return once(actor, key, (tx) => createCutting(tx, actor, edit))
})
