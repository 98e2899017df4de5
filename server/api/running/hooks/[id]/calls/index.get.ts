import { listCalls } from '~~/server/services/running/hooks'
import { IdParam } from '~~/shared/primitives'

export default route('people', async (event) => listCalls(input(IdParam, getRouterParams(event)).id))
