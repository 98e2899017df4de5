import { factsFile } from '~~/server/services/structure/files'
import { leadAndMass } from '~~/server/services/structure/questions'
import { IdParam } from '~~/shared/primitives'
import { WhereUsedQuery } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { format } = input(WhereUsedQuery, getQuery(event))
  const answer = await leadAndMass(id, actor.today)
  return format === 'json' ? answer : asFile(event, `lead time and mass ${id}`, format, await factsFile(answer, format))
})
