import { setTimeout as pause } from 'node:timers/promises'
import { eq, sql } from 'drizzle-orm'
import type PgBoss from 'pg-boss'
import { db, rows } from '~~/server/database/client'
import { jobRuns } from '~~/server/database/schema'
import { isUnavailable } from '~~/server/database/unavailable'
import { enqueueWaitingCalls } from '~~/server/services/running/hook-calls'
import { logProblem, reasonOf } from '~~/server/utils/log'
import { JOB_NAMES, JOBS, type JobDefinition, type JobName, type Progress } from './definitions'
import { GivenUp } from './given-up'
import { HANDLERS, type Handlers } from './handlers'
import { abandonedWork, Presence } from './presence'
import { enqueue, openQueue } from './queue'
import { onWake } from './wake'

/** Milliseconds from one look at what was stopped, and at whose worker is gone, to the next. */
const LOOK = 1000
const SWEEP = 5000
/** Seconds from one look for work to the next, where nobody says that there is some; somebody waits for a plan. */
const POLL = { plan: 0.5, others: 2 } as const
/** Milliseconds before the end of its time at which work is cut off by us, so that the library need not. */
const MARGIN = 2000
/** Milliseconds from one try to begin to the next. */
const START_AGAIN = 3000

type Work = (data: unknown, jobId: string, progress: Progress) => Promise<unknown>

/** Does the work that waits, each kind beside the others, until it is stopped. */
export class Workers {
  private readonly queue: PgBoss = openQueue(true)
  private readonly presence = new Presence({
    onLost: () => this.abortAll('The database was gone.'),
    onHookCalls: () => void enqueueWaitingCalls(db).catch((error: Error) => logProblem('Calls', error)),
  })
  private readonly ids = new Map<JobName, string>()
  private readonly running = new Set<AbortController>()
  private sweeping: ReturnType<typeof setInterval> | null = null

  constructor(
    private readonly handlers: Handlers = HANDLERS,
    private readonly names: readonly JobName[] = JOB_NAMES,
  ) {}

  async start(): Promise<void> {
    await this.presence.show()
    await this.queue.start()
    for (const name of this.names) {
      const { schedule, atStart = false }: JobDefinition = JOBS[name]
      if (schedule !== null) {
        await this.queue.schedule(name, schedule)
      }
      if (atStart) {
        await enqueue(db, name, null as never, '')
      }
      this.ids.set(
        name,
        await this.queue.work<object>(
          name,
          { pollingIntervalSeconds: name === 'plan' ? POLL.plan : POLL.others, includeMetadata: true },
          ([job]) => this.perform(name, job!),
        ),
      )
    }
    this.sweeping = setInterval(() => void this.sweep(), SWEEP)
  }

  /** What is under way is given back: another worker, or this one when it is here again, begins it anew. */
  async stop(): Promise<void> {
    if (this.sweeping) {
      clearInterval(this.sweeping)
    }
    this.abortAll('It was stopped.')
    await this.queue.stop({ graceful: false })
    await this.presence.end()
  }

  /** Looks for work of a kind now. */
  wake(name: JobName): void {
    const id = this.ids.get(name)
    if (id !== undefined) {
      this.queue.notifyWorker(id)
    }
  }

  private abortAll(why: string): void {
    for (const running of this.running) {
      running.abort(new Error(why))
    }
  }

  private async perform(name: JobName, job: PgBoss.JobWithMetadata<object>): Promise<void> {
    const running = new AbortController()
    this.running.add(running)
    const timers = this.watch(name, job.id, running)
    try {
      await db
        .insert(jobRuns)
        .values({ jobId: job.id, queue: name, worker: this.presence.number })
        .onConflictDoUpdate({
          target: jobRuns.jobId,
          set: { worker: this.presence.number, phase: '', percent: 0, begunAt: sql`now()` },
        })
      const onPhase = (phase: string, percent: number): void => this.note(job.id, phase, percent)
      const isLastTry = job.retryCount >= job.retryLimit
      const progress = { signal: running.signal, isLastTry, onPhase }
      const output = await untilAborted((this.handlers[name] as Work)(job.data, job.id, progress), running)
      await untilDone(() => this.queue.complete(name, job.id, isObject(output) ? output : undefined))
    } catch (error) {
      await this.fail(name, job.id, error as Error)
    } finally {
      timers.forEach((timer) => clearInterval(timer))
      this.running.delete(running)
      await untilDone(() => db.delete(jobRuns).where(eq(jobRuns.jobId, job.id)))
    }
  }

  /** Stops work that somebody has taken back, and work that takes too long. */
  private watch(name: JobName, jobId: string, running: AbortController): ReturnType<typeof setInterval>[] {
    const look = async (): Promise<void> => {
      const [job] = await rows<{ state: string }>(
        db,
        sql`select state from jobs.job where name = ${name} and id = ${jobId}`,
      )
      if (job?.state !== 'active') {
        running.abort(new Error('It was taken back.'))
      }
    }
    return [
      setInterval(() => void look().catch((error: Error) => logProblem(name, error)), LOOK),
      setTimeout(() => running.abort(new GivenUp('It took too long.')), JOBS[name].longest * 1000 - MARGIN),
    ]
  }

  private note(jobId: string, phase: string, percent: number): void {
    db.update(jobRuns)
      .set({ phase, percent })
      .where(eq(jobRuns.jobId, jobId))
      .catch((error: Error) => logProblem('Progress', error))
  }

  /** Work that was taken back stays so; any other is tried again, unless that cannot help. */
  private async fail(name: JobName, jobId: string, error: Error): Promise<void> {
    const isFinal = error instanceof GivenUp
    logProblem(`${JOBS[name].words} (${jobId})`, error)
    await untilDone(async () => {
      if (isFinal) {
        await rows(db, sql`update jobs.job set retry_limit = retry_count where name = ${name} and id = ${jobId}`)
      }
      await this.failOrMerge(name, jobId, { problem: reasonOf(error), isTold: isFinal })
    })
  }

  /** Where another of its kind and key waits to be tried again, that one will do. */
  private async failOrMerge(name: JobName, jobId: string, output: object): Promise<void> {
    try {
      await this.queue.fail(name, jobId, output)
    } catch (error) {
      if ((error as { code?: string }).code !== '23505') {
        throw error
      }
      await this.queue.complete(name, jobId, output)
    }
  }

  private async sweep(): Promise<void> {
    try {
      for (const { jobId, queue } of await abandonedWork()) {
        const output = { problem: 'It was begun several times and never ended.', isTold: true }
        await this.failOrMerge(queue as JobName, jobId, output)
        await db.delete(jobRuns).where(eq(jobRuns.jobId, jobId))
      }
    } catch (error) {
      logProblem('Abandoned work', error)
    }
  }
}

/** What is to stop is not waited for. */
function untilAborted(work: Promise<unknown>, { signal }: AbortController): Promise<unknown> {
  return Promise.race([
    work,
    new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true })),
  ])
}

const isObject = (value: unknown): value is object => typeof value === 'object' && value !== null

/** Tries until the database has taken it: it may be gone for a while. */
async function untilDone(act: () => Promise<unknown>): Promise<void> {
  for (let tries = 0; tries < 60; tries++) {
    try {
      await act()
      return
    } catch (error) {
      if (!isUnavailable(error)) {
        logProblem('Queue', error)
        return
      }
      await pause(1000)
    }
  }
}

/** Begins to work here, as soon as the database lets it; answers how it is stopped. */
export function startWorkers(): () => Promise<void> {
  let isOver = false
  let workers: Workers | null = null
  onWake((name) => workers?.wake(name))
  const begin = async (): Promise<void> => {
    while (!isOver) {
      workers = new Workers()
      try {
        return await workers.start()
      } catch (error) {
        logProblem('No background work yet', error)
        await workers.stop().catch(() => undefined)
        await pause(START_AGAIN)
      }
    }
  }
  const begun = begin()
  return async () => {
    isOver = true
    await workers?.stop()
    await begun
  }
}
