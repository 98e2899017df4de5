import path from 'node:path'
import { Worker } from 'node:worker_threads'
import { shippedFiles } from '~~/server/utils/shipped-files'
import type { JobData, Progress } from './definitions'
import { GivenUp } from './given-up'
import { THREAD_MEMORY } from './thread-memory'
import type { ThreadedName } from './threaded'

/**
 * Does work in a thread of its own, so that the server goes on answering; the thread is cut off where it is to stop,
 * and the database undoes what it had begun.
 */
export function inThread<Name extends ThreadedName>(
  name: Name,
  jobId: string,
  data: JobData[Name],
  { signal, onPhase }: Progress,
): Promise<unknown> {
  const thread = new Worker(path.join(shippedFiles('worker'), 'job.mjs'), {
    workerData: { name, jobId, data },
    resourceLimits: THREAD_MEMORY,
  })
  const stop = (): void => void thread.terminate()
  signal.addEventListener('abort', stop, { once: true })
  return new Promise<unknown>((resolve, reject) => {
    let output: unknown
    thread.on('message', (said: { phase: string; percent: number } | { output: unknown }) => {
      if ('phase' in said) {
        onPhase(said.phase, said.percent)
      } else {
        output = said.output
      }
    })
    thread.on('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? new GivenUp('It needs more memory than there is. Plan fewer items or fewer days.')
          : error,
      ),
    )
    thread.on('exit', (code) => (code === 0 ? resolve(output) : reject(new Error('It ended before it was done.'))))
  }).finally(() => signal.removeEventListener('abort', stop))
}
