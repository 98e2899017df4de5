import path from 'node:path'
import Piscina from 'piscina'
import { shippedFiles } from './shipped-files'

/** What one task may take: milliseconds, and MiB of memory. */
export interface ThreadLimits {
  readonly longest: number
  readonly memory: number
}

/**
 * A pool of threads for one kind of task, made with its first use: other requests do not wait for it, and what takes
 * too long or too much is cut off.
 *
 * `file` is the name of a thread's file. A task answers null where it was cut off.
 */
export function threads<Task, Answer>(file: string, { longest, memory }: ThreadLimits) {
  let pool: Piscina<Task, Answer> | null = null
  return async (task: Task): Promise<Answer | null> => {
    pool ??= new Piscina<Task, Answer>({
      filename: path.join(shippedFiles('worker'), `${file}.mjs`),
      minThreads: 0,
      maxThreads: 2,
      idleTimeout: 10_000,
      resourceLimits: { maxOldGenerationSizeMb: memory },
    })
    try {
      return await pool.run(task, { signal: AbortSignal.timeout(longest) })
    } catch (error) {
      const { name, code } = error as { name?: string; code?: string }
      if (name === 'AbortError' || code === 'ERR_WORKER_OUT_OF_MEMORY') {
        return null
      }
      throw error
    }
  }
}
