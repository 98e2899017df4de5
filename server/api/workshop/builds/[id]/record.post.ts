import { once } from '~~/server/database/transactions'
import { recordBuild } from '~~/server/services/workshop/record-build'
import { RecordBuild } from '~~/shared/workshop/requests'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(RecordBuild, await readBody(event))
  return once(actor, key, (tx) => recordBuild(tx, actor, id, edit))
})
