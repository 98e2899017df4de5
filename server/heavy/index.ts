import os from 'node:os'
import type { H3Event } from 'h3'
import pLimit, { type LimitFunction } from 'p-limit'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { CutOff, threads } from '~~/server/utils/threads'
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

/** At least three, so that one person’s two leave room for others. */
const work = threads<HeavyTask, HeavyAnswer>('heavy', {
  memory: MEMORY,
  most: Math.max(AT_ONCE + 1, os.availableParallelism()),
  idle: 300_000,
})
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
    const answer = await work({ name, input }, { longest, signal: gone.signal })
    if ('refused' in answer) {
      throw Refusal.from(answer.refused)
    }
    return answer.output
  } catch (error) {
    throw error instanceof CutOff ? refusalFor(error, longest) : error
  } finally {
    res.off('close', leave)
  }
}

const refusalFor = ({ by }: CutOff, longest: number): Refusal =>
  new Refusal(
    'unavailable',
    by === 'time'
      ? `This took longer than ${longest / 1000} seconds and was stopped. Ask for less at once.`
      : 'This takes more memory than there is. Ask for less at once.',
  )
