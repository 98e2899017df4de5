import { readMail } from '~~/server/services/company/mails'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { name, text } = await readMail(actor, id)
  setResponseHeader(event, 'content-type', 'message/rfc822')
  setResponseHeader(event, 'content-disposition', `attachment; filename="${name}"`)
  return text
})
