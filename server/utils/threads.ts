import path from 'node:path'
import Piscina from 'piscina'
import { shippedFiles } from './shipped-files'

/** Why a task was ended before it was done: it took too long, or too much memory, or nobody waited for it any more. */
export class CutOff extends Error {
  constructor(readonly by: 'time' | 'memory') {
    super(`Cut off by ${by}`)
  }
}

/** What a pool may take: MiB of memory each thread, how many threads, and milliseconds that an idle one stays. */
export interface PoolLimits {
  readonly memory: number
  readonly most?: number
  readonly idle?: number
}

/** Ends a task after so many milliseconds, or by a signal. */
export interface TaskLimits {
  readonly longest: number
  readonly signal?: AbortSignal
}

/**
 * A pool of threads for one kind of task, made with its first use: other requests do not wait for it.
 *
 * `file` is the name of a thread's file. Errors: `CutOff`; those of the task.
 */
export function threads<Task, Answer>(file: string, { memory, most = 2, idle = 10_000 }: PoolLimits) {
  let pool: Piscina<Task, Answer> | null = null
  return async (task: Task, { longest, signal }: TaskLimits): Promise<Answer> => {
    pool ??= new Piscina<Task, Answer>({
      filename: path.join(shippedFiles('worker'), `${file}.mjs`),
      minThreads: 0,
      maxThreads: most,
      idleTimeout: idle,
      resourceLimits: { maxOldGenerationSizeMb: memory },
    })
    const ends = [AbortSignal.timeout(longest), ...(signal ? [signal] : [])]
    try {
      return await pool.run(task, { signal: AbortSignal.any(ends) })
    } catch (error) {
      throw cutOffBy(error) ?? error
    }
  }
}

function cutOffBy(error: unknown): CutOff | null {
  const { name, code } = error as { name?: string; code?: string }
  if (name === 'AbortError') {
    return new CutOff('time')
  }
  return code === 'ERR_WORKER_OUT_OF_MEMORY' ? new CutOff('memory') : null
}
