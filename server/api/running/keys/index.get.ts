import { listKeys } from '~~/server/services/running/api-keys'

export default route('people', () => listKeys())
