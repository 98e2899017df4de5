import { promiseLines } from '~~/server/services/demand/promise'
import { PromiseQuery } from '~~/shared/demand/requests'

export default route('see', async (event, actor) =>
  promiseLines(input(PromiseQuery, await readBody(event)), actor.today),
)
