import { db } from '~~/server/database/client'
import { freeCode } from '~~/server/services/catalogue/definitions'
import { FreeCode } from '~~/shared/catalogue/requests'

export default route('see', async (event) => {
  const { group } = input(FreeCode, getQuery(event))
  return { code: await freeCode(db, group) }
})
