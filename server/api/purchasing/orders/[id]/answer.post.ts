import { heavy } from '~~/server/heavy'
import { AnswerFile } from '~~/shared/purchasing/requests'
import { IdParam } from '~~/shared/primitives'

export default route('buy', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { text } = input(AnswerFile, await readBody(event))
  return heavy(event, actor, 'readAnswer', id, text)
})
