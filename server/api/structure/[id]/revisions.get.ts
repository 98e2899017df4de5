import { db } from '~~/server/database/client'
import { revisionsOf } from '~~/server/services/structure/bills'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) =>
  revisionsOf(db, input(IdParam, getRouterParams(event)).id, actor.today),
)
