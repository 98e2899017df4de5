import { once } from '~~/server/services/company/command'
import { moveSupply } from '~~/server/services/planning/edit-order'
import { MoveSupply } from '~~/shared/planning'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(MoveSupply, await readBody(event))
  return once(actor, key, tx => moveSupply(tx, actor, id, edit))
})
