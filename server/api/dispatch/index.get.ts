import { listDispatch } from '~~/server/services/dispatch/dispatch'

export default route('see', async () => listDispatch())
