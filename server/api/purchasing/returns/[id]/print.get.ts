import { heavy } from '~~/server/heavy'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { name, bytes } = await heavy(event, actor, 'returnDocument', id)
  setResponseHeaders(event, { 'content-type': 'application/pdf', 'content-disposition': `inline; filename="${name}"` })
  return bytes
})
