import { billDocument } from '~~/server/services/structure/bill-document'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { name, bytes } = await billDocument(input(IdParam, getRouterParams(event)).id, actor.today)
  return asFile(event, name, 'pdf', bytes)
})
