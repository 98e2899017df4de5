import { parentPort, workerData } from 'node:worker_threads'
import { pool } from '~~/server/database/client'
import { computeApart, type Claim } from '~~/server/services/planning/runs'

/** A thread of its own that computes one plan, so that the server goes on answering; it ends with it. */
const { claim } = workerData as { claim: Claim }
await computeApart(claim, (phase, percent) => parentPort!.postMessage({ phase, percent }))
await pool.end()
