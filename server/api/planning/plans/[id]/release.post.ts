import { once } from '~~/server/database/transactions'
import { release } from '~~/server/services/planning/release'
import { askRun, soon } from '~~/server/services/planning/runs'
import { Release } from '~~/shared/planning/requests'
import { IdParam } from '~~/shared/primitives'

export default route('plan', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(Release, await readBody(event))
  const done = await once(actor, key, (tx) =>
    release(tx, actor, id, { version: edit.version, orderIds: edit.orders }, askRun),
  )
  return { ...done, ...(await soon(id)) }
})
