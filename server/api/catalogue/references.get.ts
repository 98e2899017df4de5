import { loadReferences } from '~~/server/services/catalogue/references'

export default route('see', async () => loadReferences())
