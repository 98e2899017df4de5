import { listPlans } from '~~/server/services/planning/plans'

export default route('see', async () => listPlans())
