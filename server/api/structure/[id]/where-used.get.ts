import { whereUsedFile } from '~~/server/services/structure/files'
import { whereUsedOf } from '~~/server/services/structure/questions'
import { IdParam } from '~~/shared/primitives'
import { WhereUsedQuery } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { format } = input(WhereUsedQuery, getQuery(event))
  const answer = await whereUsedOf(id, actor.today)
  return format === 'json' ? answer : asFile(event, `where-used ${id}`, format, await whereUsedFile(answer, format))
})
