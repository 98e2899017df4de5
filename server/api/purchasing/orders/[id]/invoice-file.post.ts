import { heavy } from '~~/server/heavy'
import { AnswerFile } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

/** What a supplier's invoice (UBL 2.1) asks for; nothing is recorded. */
export default route('books', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { text } = input(AnswerFile, await readBody(event))
  return heavy(event, actor, 'readInvoice', id, text)
})
