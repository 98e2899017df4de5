import { once } from '~~/server/services/company/command'
import { unkit } from '~~/server/services/workshop/unkit'
import { Unkit } from '~~/shared/workshop'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(Unkit, await readBody(event))
  return once(actor, key, (tx) => unkit(tx, actor, edit))
})
