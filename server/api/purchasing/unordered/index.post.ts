import { once } from '~~/server/database/transactions'
import { receiveUnordered } from '~~/server/services/purchasing/unordered'
import { ReceiveUnordered } from '~~/shared/purchasing/requests'

export default route('receive', async (event, actor) => {
  const { key, ...edit } = input(ReceiveUnordered, await readBody(event))
  return once(actor, key, (tx) => receiveUnordered(tx, actor, edit))
})
