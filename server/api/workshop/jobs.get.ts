import { listJobs } from '~~/server/services/workshop/jobs'
import { JobQuery } from '~~/shared/workshop'

export default route('see', async (event) => listJobs(input(JobQuery, getQuery(event))))
