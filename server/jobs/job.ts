import { parentPort, workerData } from 'node:worker_threads'
import { pool } from '~~/server/database/client'
import type { JobData } from './definitions'
import { THREADED, type ThreadedName } from './threaded'

/** The thread of one piece of work; it ends with it. */
const { name, jobId, data } = workerData as { name: ThreadedName; jobId: string; data: JobData[ThreadedName] }
const work = THREADED[name] as (
  data: unknown,
  jobId: string,
  onPhase: (phase: string, percent: number) => void,
) => Promise<unknown>
const output = await work(data, jobId, (phase, percent) => parentPort!.postMessage({ phase, percent }))
parentPort!.postMessage({ output })
await pool.end()
