import { comparePlans } from '~~/server/services/planning/compare'
import { ComparePlans } from '~~/shared/planning/requests'

export default route('see', async (event) => {
  const { plans } = input(ComparePlans, getQuery(event))
  return comparePlans(plans)
})
