import { loadPlans } from '~~/server/services/inspection/plans'

export default route('see', () => loadPlans())
