import { once } from '~~/server/database/transactions'
import { decide } from '~~/server/services/inspection/decide'
import { DecideInspection } from '~~/shared/inspection/requests'
import { IdParam } from '~~/shared/primitives'

export default route('inspect', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(DecideInspection, await readBody(event))
  return once(actor, key, (tx) => decide(tx, actor, id, edit))
})
