import { listPlanned } from '~~/server/services/planning/read-plan'
import { workingPlanId } from '~~/server/services/planning/plans'

export default route('see', async () => {
  const planId = await workingPlanId()
  const orders = planId === null ? [] : await listPlanned(planId)
  return { planId, orders: orders.filter((order) => order.kind === 'buy' && order.state !== 'released') }
})
