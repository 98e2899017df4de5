import { keepPicture } from '~~/server/services/catalogue/pictures'
import { isAllowed } from '~~/shared/company/rights'
import { NewPicture } from '~~/shared/catalogue/pictures'

/** Of an item, or of what was found in an inspection. */
export default route('see', async (event, actor) => {
  requireAllowed(actor, isAllowed(actor, 'inspect') ? 'inspect' : 'catalogue')
  const { content } = input(NewPicture, await readBody(event))
  return keepPicture(Buffer.from(content, 'base64'))
})
