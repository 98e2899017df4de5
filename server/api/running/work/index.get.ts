import { listWork } from '~~/server/services/running/work'
import { Page } from '~~/shared/primitives'

export default route('people', async (event) => listWork(input(Page, getQuery(event))))
