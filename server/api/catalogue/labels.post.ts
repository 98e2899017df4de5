import { heavy } from '~~/server/heavy'
import { PrintLabels } from '~~/shared/catalogue/labels'

export default route('see', async (event, actor) => {
  const asked = input(PrintLabels, await readBody(event))
  setResponseHeaders(event, {
    'content-type': 'application/pdf',
    'content-disposition': 'inline; filename="labels.pdf"',
  })
  return heavy(event, actor, 'printLabels', asked)
})
