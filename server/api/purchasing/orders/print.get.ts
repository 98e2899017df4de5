import { heavy } from '~~/server/heavy'
import { PurchaseIds } from '~~/shared/purchasing/requests'

export default route('costs', async (event, actor) => {
  const { ids } = input(PurchaseIds, getQuery(event))
  const { name, bytes } = await heavy(event, actor, 'purchaseDocument', ids)
  setResponseHeaders(event, { 'content-type': 'application/pdf', 'content-disposition': `inline; filename="${name}"` })
  return bytes
})
