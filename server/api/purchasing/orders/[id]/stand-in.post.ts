import { standInDocuments } from '~~/server/services/purchasing/stand-in-supplier'
import { IdParam } from '~~/shared/primitives'
import { StandInSupplier } from '~~/shared/purchasing/stand-in'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  return standInDocuments(id, input(StandInSupplier, await readBody(event)), actor.today)
})
