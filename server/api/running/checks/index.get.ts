import { examine } from '~~/server/services/running/doctor'

export default route('people', () => examine())
