import path from 'node:path'
import { Worker } from 'node:worker_threads'
import { beat, claimRun, endRun, settled, type Claim } from '~~/server/services/planning/runs'
import { shippedFiles } from '~~/server/utils/shipped-files'
import type { PlanRun } from '~~/shared/planning/requests'
import { THREAD_MEMORY } from './thread-memory'

/** How one plan is computed: `done` fails where it does; `stop` ends it at once. */
export interface Execution {
  readonly done: Promise<void>
  stop(): void
}
type Execute = (claim: Claim, onProgress: (phase: string, percent: number) => void) => Execution

/** In a thread, which is cut off where it is to stop: the database undoes what it had begun. */
export const inThread: Execute = (claim, onProgress) => {
  const thread = new Worker(path.join(shippedFiles('worker'), 'plan.mjs'), {
    workerData: { claim },
    resourceLimits: THREAD_MEMORY,
  })
  const done = new Promise<void>((resolve, reject) => {
    thread.on('message', ({ phase, percent }: { phase: string; percent: number }) => onProgress(phase, percent))
    thread.on('error', reject)
    thread.on('exit', () => resolve())
  })
  return { done, stop: () => void thread.terminate() }
}

const BEAT = 1000
const CHECK_EVERY = 2000

/** Works through the plans that wait, one after the other, for as long as the server runs. */
export class PlanRunner {
  private busy = false
  private again = false
  private stopped = false
  private running: Execution | null = null
  private timer: ReturnType<typeof setInterval> | null = null
  constructor(private readonly execute: Execute = inThread) {}

  start(): void {
    this.timer = setInterval(() => this.checkQueue(), CHECK_EVERY)
    this.checkQueue()
  }
  /** What is under way is given up; another server, or this one when it is back, begins it anew. */
  stop(): void {
    this.stopped = true
    if (this.timer) {
      clearInterval(this.timer)
    }
    this.running?.stop()
  }

  /** Looks for plans that wait; a look during another is made after it. */
  checkQueue(): void {
    if (this.stopped) {
      return
    }
    if (this.busy) {
      this.again = true
      return
    }
    this.busy = true
    this.again = false
    void this.work()
      .catch((error: Error) => console.error('Plans not computed:', error.message))
      .finally(() => {
        this.busy = false
        if (this.again) {
          this.checkQueue()
        }
      })
  }

  private async work(): Promise<void> {
    for (let claim = await claimRun(); claim && !this.stopped; claim = await claimRun()) {
      await this.perform(claim)
    }
  }

  private async perform(claim: Claim): Promise<void> {
    const say = (phase?: string, percent?: number): void => {
      beat(claim, phase, percent).then(
        (goesOn) => {
          if (!goesOn) {
            this.running?.stop()
          }
        },
        (error: Error) => console.error('Plan run:', error.message),
      )
    }
    const running = this.execute(claim, say)
    this.running = running
    const timer = setInterval(() => say(), BEAT)
    let problem: string | null = null
    try {
      await running.done
    } catch (error) {
      console.error(`Plan ${claim.planId}:`, error)
      problem =
        (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? 'It needs more memory than there is. Plan fewer items or fewer days.'
          : 'It could not be computed, and the plan is as it was. Try again; if it stays, tell the person who looks after Tsumiki.'
    } finally {
      clearInterval(timer)
      this.running = null
    }
    if (!this.stopped) {
      await endRun(claim, problem)
    }
  }
}

let runner: PlanRunner | null = null
export function startRunner(): PlanRunner {
  runner = new PlanRunner()
  runner.start()
  return runner
}

/** After an act that had a plan computed: begins at once, and waits a little for it. */
export async function soon(planId: number): Promise<PlanRun> {
  runner?.checkQueue()
  return settled(planId)
}
