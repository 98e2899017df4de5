import { explodeItem } from '~~/server/services/structure/questions'
import { explosionFile } from '~~/server/services/structure/files'
import { IdParam } from '~~/shared/primitives'
import { ExplodeQuery } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const query = input(ExplodeQuery, getQuery(event))
  const answer = await explodeItem(id, query, actor.today)
  return query.format === 'json'
    ? answer
    : asFile(event, `${answer.code} ${answer.how}`, query.format, await explosionFile(answer, query.format))
})
