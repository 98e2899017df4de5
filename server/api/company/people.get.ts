import { listPeople } from '~~/server/services/company/people'

export default route('people', async () => listPeople())
