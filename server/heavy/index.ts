import os from 'node:os'
import path from 'node:path'
import type { H3Event } from 'h3'
import pLimit, { type LimitFunction } from 'p-limit'
import Piscina from 'piscina'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { shippedFiles } from '~~/server/utils/shipped-files'
import type { TaskInput, TaskName, TaskOutput } from './tasks'
import type { HeavyAnswer, HeavyTask } from './thread'

/** Of one person at once, and waiting beside them. */
const AT_ONCE = 2
const WAITING = 20
/** Milliseconds after which work is cut off. */
const LONGEST = 60_000
const LONGEST_IMPORT = 600_000
/** What changes something goes on where nobody waits for its answer any more: it is done as a whole or not at all. */
const CHANGES: ReadonlySet<TaskName> = new Set(['openImport', 'applyImport', 'takeBack', 'importInto'])
/** MiB that one piece of work may take. */
const MEMORY = 1536

let pool: Piscina<HeavyTask, HeavyAnswer> | null = null
const lanes = new Map<number, LimitFunction>()

/**
 * Does heavy work beside the thread that answers, so that nobody else waits for it: two pieces of one person at a time,
 * the others in their turn. It is cut off where the person has gone, or where it takes too long.
 *
 * Errors: those of the work; `too-many` where too much of the same person waits; `unavailable` where it took too long.
 */
export async function heavy<Name extends TaskName>(
  event: H3Event,
  { userId }: Pick<Actor, 'userId'>,
  name: Name,
  ...input: TaskInput<Name>
): Promise<TaskOutput<Name>> {
  const lane = lanes.get(userId) ?? pLimit(AT_ONCE)
  lanes.set(userId, lane)
  if (lane.pendingCount >= WAITING) {
    throw new Refusal(
      'too-many',
      `${WAITING + AT_ONCE} pieces of long work of yours wait already. Go on when they are done.`,
    )
  }
  try {
    return (await lane(() => perform(event, name, input))) as TaskOutput<Name>
  } finally {
    if (lane.activeCount + lane.pendingCount === 0) {
      lanes.delete(userId)
    }
  }
}

async function perform(event: H3Event, name: TaskName, input: readonly unknown[]): Promise<unknown> {
  const { res } = event.node
  const changes = CHANGES.has(name)
  const gone = new AbortController()
  const leave = (): void => gone.abort()
  if (!changes) {
    res.once('close', leave)
    if (res.destroyed) {
      leave()
    }
  }
  const longest = changes || name === 'previewImport' ? LONGEST_IMPORT : LONGEST
  try {
    const answer = await threads().run(
      { name, input },
      { signal: AbortSignal.any([gone.signal, AbortSignal.timeout(longest)]) },
    )
    if ('refused' in answer) {
      throw Refusal.from(answer.refused)
    }
    return answer.output
  } catch (error) {
    throw cutOff(error, longest) ?? error
  } finally {
    res.off('close', leave)
  }
}

/** The refusal for work that was cut off; null where it failed by itself. */
function cutOff(error: unknown, longest: number): Refusal | null {
  const { name, code } = error as { name?: string; code?: string }
  if (name === 'AbortError') {
    return new Refusal(
      'unavailable',
      `This took longer than ${longest / 1000} seconds and was stopped. Ask for less at once.`,
    )
  }
  return code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? new Refusal('unavailable', 'This takes more memory than there is. Ask for less at once.')
    : null
}

/** At least three, so that one person’s two leave room for others. */
function threads(): Piscina<HeavyTask, HeavyAnswer> {
  pool ??= new Piscina<HeavyTask, HeavyAnswer>({
    filename: path.join(shippedFiles('worker'), 'heavy.mjs'),
    minThreads: 0,
    maxThreads: Math.max(AT_ONCE + 1, os.availableParallelism()),
    idleTimeout: 300_000,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY },
  })
  return pool
}
