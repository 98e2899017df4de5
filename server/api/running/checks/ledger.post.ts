import { inTransaction } from '~~/server/database/transactions'
import { enqueue } from '~~/server/jobs/queue'
import { wakeWorkers } from '~~/server/jobs/wake'

/** Has the ledger worked out again in the background. */
export default route('people', async () => {
  await inTransaction((tx) => enqueue(tx, 'ledger-check', null, ''))
  wakeWorkers('ledger-check')
  return { asked: true }
})
