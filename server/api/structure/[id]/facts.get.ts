import { leadAndMass } from '~~/server/services/structure/questions'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => leadAndMass(input(IdParam, getRouterParams(event)).id, actor.today))
