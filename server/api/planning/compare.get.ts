import { heavy } from '~~/server/heavy'
import { ComparePlans } from '~~/shared/planning/requests'

export default route('see', async (event, actor) => {
  const { plans } = input(ComparePlans, getQuery(event))
  return heavy(event, actor, 'comparePlans', plans)
})
