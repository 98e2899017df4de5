import { once } from '~~/server/services/company/command'
import { unpack } from '~~/server/services/workshop/unpack'
import { Unpack } from '~~/shared/workshop'

export default route('make', async (event, actor) => {
  const { key, ...edit } = input(Unpack, await readBody(event))
  return once(actor, key, (tx) => unpack(tx, actor, edit))
})
