import { heavy } from '~~/server/heavy'
import { WhyParams } from '~~/shared/planning/requests'

export default route('see', async (event, actor) => {
  const { id, order } = input(WhyParams, getRouterParams(event))
  return heavy(event, actor, 'explainOrder', id, order)
})
