import { heavy } from '~~/server/heavy'
import { PrintLotLabels } from '~~/shared/catalogue/labels'

export default route('see', async (event, actor) => {
  const asked = input(PrintLotLabels, await readBody(event))
  setResponseHeaders(event, {
    'content-type': 'application/pdf',
    'content-disposition': 'inline; filename="labels.pdf"',
  })
  return heavy(event, actor, 'printLotLabels', asked)
})
