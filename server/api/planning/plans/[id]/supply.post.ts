import { once } from '~~/server/database/transactions'
import { moveSupply } from '~~/server/services/planning/edit-order'
import { askRun, soon } from '~~/server/services/planning/runs'
import { MoveSupply } from '~~/shared/planning/requests'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(MoveSupply, await readBody(event))
  const done = await once(actor, key, (tx) => moveSupply(tx, actor, id, edit, askRun))
  return { ...done, ...(await soon(id)) }
})
