import { listProducts } from '~~/server/services/demand/shop'

export default route('see', async () => listProducts())
