import { db } from '~~/server/database/client'
import { loadRequest } from '~~/server/services/purchasing/quotations/load-request'
import { IdParam } from '~~/shared/primitives'

export default route('costs', async (event, actor) =>
  loadRequest(db, input(IdParam, getRouterParams(event)).id, actor.today),
)
