import { explainOrder } from '~~/server/services/planning/explain-order'
import { WhyParams } from '~~/shared/planning/requests'

export default route('see', async (event) => {
  const { id, order } = input(WhyParams, getRouterParams(event))
  return explainOrder(id, order)
})
