import { lookIntoShop } from '~~/server/services/demand/shop'

export default route('see', async () => lookIntoShop())
