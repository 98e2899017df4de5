import { db } from '~~/server/database/client'
import { readSettings } from '~~/server/services/company/settings'

export default route('people', () => readSettings(db))
