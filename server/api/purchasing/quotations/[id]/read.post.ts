import { heavy } from '~~/server/heavy'
import { IdParam } from '~~/shared/primitives'
import { QuotationFile } from '~~/shared/purchasing/quotations'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { fileName, content } = input(QuotationFile, await readBody(event))
  return heavy(event, actor, 'readQuotation', id, { fileName, content }, actor.today)
})
