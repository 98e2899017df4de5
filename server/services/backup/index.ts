import { pool } from '~~/server/database/client'

export { backUp, backupFolder, freeBytes, listBackups, thinBackups } from './back-up'
export { restore, type Restored } from './restore'

/** Ends the connections of a program that is done. */
export const closeDatabase = (): Promise<void> => pool.end()
