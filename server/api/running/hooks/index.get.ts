import { listHooks } from '~~/server/services/running/hooks'

export default route('people', () => listHooks())
