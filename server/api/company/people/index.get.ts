import { listPeople } from '~~/server/services/people/people'

export default route('people', async () => listPeople())
