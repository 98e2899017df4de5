import { readLowStock } from '~~/server/services/stock/low-stock'

export default route('see', async (_, actor) => readLowStock(actor))
