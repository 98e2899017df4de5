import { loadPicture } from '~~/server/services/catalogue/pictures'
import { PictureQuery } from '~~/shared/catalogue/pictures'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { size } = input(PictureQuery, getQuery(event))
  setResponseHeaders(event, { 'content-type': 'image/jpeg', 'cache-control': 'private, max-age=31536000, immutable' })
  return loadPicture(id, size)
})
