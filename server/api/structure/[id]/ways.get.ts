import { db } from '~~/server/database/client'
import { waysOf } from '~~/server/services/structure/ways'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => waysOf(db, input(IdParam, getRouterParams(event)).id))
