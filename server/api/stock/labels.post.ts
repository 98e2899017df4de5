import { printLotLabels } from '~~/server/services/catalogue/labels'
import { PrintLotLabels } from '~~/shared/catalogue/labels'

export default route('see', async (event) => {
  const asked = input(PrintLotLabels, await readBody(event))
  setResponseHeaders(event, {
    'content-type': 'application/pdf',
    'content-disposition': 'inline; filename="labels.pdf"',
  })
  return printLotLabels(asked)
})
