import { listCutting } from '~~/server/services/workshop/cutting'

export default route('see', async () => listCutting())
