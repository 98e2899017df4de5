import { printLabels } from '~~/server/services/catalogue/labels'
import { PrintLabels } from '~~/shared/catalogue/labels'

export default route('see', async (event) => {
  const asked = input(PrintLabels, await readBody(event))
  setResponseHeaders(event, {
    'content-type': 'application/pdf',
    'content-disposition': 'inline; filename="labels.pdf"',
  })
  return printLabels(asked)
})
