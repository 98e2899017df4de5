import { db } from '~~/server/database/client'
import { loadBlanket } from '~~/server/services/purchasing/blankets/load-blanket'
import { IdParam } from '~~/shared/primitives'

export default route('costs', async (event) => loadBlanket(db, input(IdParam, getRouterParams(event)).id))
