import { listJobs } from '~~/server/services/workshop/jobs'
import { JobQuery } from '~~/shared/workshop/requests'

export default route('see', async (event) => listJobs(input(JobQuery, getQuery(event))))
