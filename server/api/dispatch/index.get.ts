import { listDispatch } from '~~/server/services/dispatch/dispatch-queries'

export default route('see', async () => listDispatch())
