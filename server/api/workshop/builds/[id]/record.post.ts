import { once } from '~~/server/services/company/command'
import { recordBuild } from '~~/server/services/workshop/record-build'
import { RecordBuild } from '~~/shared/workshop'
import { IdParam } from '~~/shared/primitives'

export default route('make', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { key, ...edit } = input(RecordBuild, await readBody(event))
  return once(actor, key, (tx) => recordBuild(tx, actor, id, edit))
})
