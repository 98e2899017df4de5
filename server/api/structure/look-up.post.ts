import { db } from '~~/server/database/client'
import { lookUpItems } from '~~/server/services/structure/look-up'
import { LookUp } from '~~/shared/structure/requests'

export default route('see', async (event) => lookUpItems(db, input(LookUp, await readBody(event)).words))
