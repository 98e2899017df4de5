import { inTransaction } from '~~/server/database/transactions'
import { moveJob } from '~~/server/services/workshop/move-job'
import { JobDay, JobParam } from '~~/shared/workshop/board'

export default route('make', async (event, actor) => {
  const { job } = input(JobParam, getRouterParams(event))
  const edit = input(JobDay, await readBody(event))
  return inTransaction((tx) => moveJob(tx, actor, job, edit))
})
