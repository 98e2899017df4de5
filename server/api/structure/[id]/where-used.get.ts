import { whereUsedOf } from '~~/server/services/structure/questions'
import { IdParam } from '~~/shared/primitives'

export default route('see', async event => {
  const { id } = input(IdParam, getRouterParams(event))
  return whereUsedOf(id)
})
