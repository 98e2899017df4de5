import { db } from '~~/server/database/client'
import { previewJobMove } from '~~/server/services/workshop/move-job'
import { JobDayQuery, JobParam } from '~~/shared/workshop/board'

/** What giving the job another day makes late. */
export default route('see', async (event, actor) => {
  const { job } = input(JobParam, getRouterParams(event))
  const { day } = input(JobDayQuery, getQuery(event))
  return previewJobMove(db, job, day, actor.today)
})
