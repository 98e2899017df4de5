import { orderAsUbl } from '~~/server/services/purchasing/ubl/order'
import { IdParam } from '~~/shared/primitives'

export default route('costs', async (event) => {
  const { name, text } = await orderAsUbl(input(IdParam, getRouterParams(event)).id)
  return asFile(event, name.replace(/\.xml$/, ''), 'xml', text)
})
