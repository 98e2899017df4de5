import { listBatches } from '~~/server/services/catalogue/tables/batches'

export default route('see', () => listBatches())
