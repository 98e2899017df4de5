import { readBackups } from '~~/server/services/backup/daily'

export default route('people', async () => readBackups())
