import { loadReturnable } from '~~/server/services/purchasing/return-queries'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  return loadReturnable(id)
})
