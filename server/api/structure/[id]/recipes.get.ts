import { db } from '~~/server/database/client'
import { recipesOf } from '~~/server/services/structure/recipes'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => recipesOf(db, input(IdParam, getRouterParams(event)).id))
