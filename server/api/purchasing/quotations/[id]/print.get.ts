import { heavy } from '~~/server/heavy'
import { IdParam } from '~~/shared/primitives'
import { QuotationFileQuery } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { supplier } = input(QuotationFileQuery, getQuery(event))
  const { name, bytes } = await heavy(event, actor, 'requestDocument', id, supplier, actor.today)
  setResponseHeaders(event, { 'content-type': 'application/pdf', 'content-disposition': `inline; filename="${name}"` })
  return bytes
})
