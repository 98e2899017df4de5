import { readPlan } from '~~/server/services/planning/read-plan'
import { packLines } from '~~/shared/planning/plan-lines'
import { IdParam } from '~~/shared/primitives'

export default route('see', async (event, actor) => {
  const { id } = input(IdParam, getRouterParams(event))
  const { nodes, ...plan } = await readPlan(id, actor.today)
  return { ...plan, lines: packLines(nodes) }
})
