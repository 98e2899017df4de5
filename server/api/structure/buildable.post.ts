import { heavy } from '~~/server/heavy'
import { buildableFile } from '~~/server/services/structure/files'
import { BuildableQuery } from '~~/shared/structure/requests'

export default route('see', async (event, actor) => {
  const { wanted, format } = input(BuildableQuery, await readBody(event))
  const answer = await heavy(event, actor, 'buildableNow', wanted, actor.today)
  return format === 'json' ? answer : asFile(event, 'buildable-now', format, await buildableFile(answer, format))
})
