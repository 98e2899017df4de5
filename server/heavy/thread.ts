import os from 'node:os'
import { asRefusal, type Refused } from '~~/server/utils/refusal'
import { loadReversals } from '~~/server/services/reversals'
import { TASKS, type TaskName } from './tasks'

export interface HeavyTask {
  readonly name: TaskName
  readonly input: readonly unknown[]
}
export type HeavyAnswer = { readonly output: unknown } | { readonly refused: Refused }

loadReversals()
// Linux counts this for the thread alone: whoever only looks something up goes first.
if (process.platform === 'linux') {
  os.setPriority(10)
}

/** Does heavy work in a thread of its own; a refusal is told as data, as errors lose their kind on the way. */
export default async function work({ name, input }: HeavyTask): Promise<HeavyAnswer> {
  try {
    return { output: await (TASKS[name] as (...input: readonly unknown[]) => Promise<unknown>)(...input) }
  } catch (error) {
    const refusal = asRefusal(error)
    if (refusal) {
      return { refused: refusal.told }
    }
    throw error
  }
}
