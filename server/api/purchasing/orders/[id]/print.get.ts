import { purchaseDocument } from '~~/server/services/purchasing/document'
import { IdParam } from '~~/shared/primitives'

export default route('costs', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { name, bytes } = await purchaseDocument(id)
  setResponseHeaders(event, { 'content-type': 'application/pdf', 'content-disposition': `inline; filename="${name}"` })
  return bytes
})
