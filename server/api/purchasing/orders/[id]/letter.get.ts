import { proposedLetter } from '~~/server/services/purchasing/outgoing'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event) => proposedLetter(input(IdParam, getRouterParams(event)).id))
