import { heavy } from '~~/server/heavy'
import { PromiseQuery } from '~~/shared/demand/requests'

export default route('see', async (event, actor) =>
  heavy(event, actor, 'promiseLines', input(PromiseQuery, await readBody(event)), actor.today),
)
