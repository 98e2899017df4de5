import { listAudit } from '~~/server/services/people/audit'
import { Page } from '~~/shared/primitives'

export default route('people', async (event) => listAudit(input(Page, getQuery(event))))
