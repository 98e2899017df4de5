import { databaseState } from '~~/server/utils/database-state'

export default defineEventHandler(() => databaseState())
