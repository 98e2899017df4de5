import { listBatches } from '~~/server/services/catalogue/tables/batch-queries'

export default route('see', async () => listBatches('goods-received'))
