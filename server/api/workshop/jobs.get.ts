import { listJobs } from '~~/server/services/workshop/jobs'

export default route('see', async () => listJobs())
