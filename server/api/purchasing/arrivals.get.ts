import { listArrivals } from '~~/server/services/purchasing/arrivals'

export default route('see', () => listArrivals())
