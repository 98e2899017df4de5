import { keepPicture } from '~~/server/services/catalogue/pictures'
import { NewPicture } from '~~/shared/catalogue/pictures'

export default route('catalogue', async (event) => {
  const { content } = input(NewPicture, await readBody(event))
  return keepPicture(Buffer.from(content, 'base64'))
})
