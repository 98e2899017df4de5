import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'
import { isUnanswered } from '../ui/use-act'

/**
 * An act that has not been answered yet. `document` names what it changes: acts on one document go out in their order.
 */
export interface Waiting {
  readonly key: string
  readonly url: string
  readonly body: Record<string, unknown>
  readonly document: string
  readonly summary: string
  readonly at: string
  refused?: string
}
interface Answer {
  version?: number
}
/** What still fits of an act whose document somebody else has changed meanwhile, and what does not, with the reason. */
export interface Merged {
  readonly fits: Pick<Waiting, 'body' | 'summary'> | null
  readonly rest: { readonly summary: string; readonly reason: string } | null
}

const TRY_EVERY = 4000
/** So often others may be quicker before an act is left to a person. */
const MOST_MERGES = 5

/**
 * Acts that must not be lost when the connection drops: each is kept in the browser before it is sent, sent again until
 * it is answered, and counts once, because its key stays the same.
 *
 * An act that the server refuses stays, with the reason, until a person takes it out; what waits behind it on the same
 * document waits. The version that an act has seen follows the answers to those before it. Where somebody else has
 * changed the document, `merge` says what of the act still fits: that goes out, and the rest stays with the reason.
 */
export function useOutbox(
  send: (act: Waiting) => Promise<Answer> = (act) =>
    $fetch<Answer>(act.url, { method: 'POST', body: { ...act.body, key: act.key } }),
  said: (act: Waiting, answer: Answer) => void = () => undefined,
  merge: (act: Waiting) => Promise<Merged | null> = () => Promise.resolve(null),
) {
  const waiting = useLocalStorage<Waiting[]>('tsumiki-outbox', [])
  const isCut = ref(false)
  let isSending = false

  function settle(act: Waiting, answer: Answer): void {
    isCut.value = false
    waiting.value = waiting.value
      .filter((candidate) => candidate.key !== act.key)
      .map((candidate) =>
        candidate.document === act.document && answer.version !== undefined
          ? { ...candidate, body: { ...candidate.body, version: answer.version } }
          : candidate,
      )
    said(act, answer)
  }
  /** Keeps the reason with an act that is refused. */
  function refuse(act: Waiting, reason: string): 'refused' {
    waiting.value = waiting.value.map((candidate) =>
      candidate.key === act.key ? { ...candidate, refused: reason } : candidate,
    )
    return 'refused'
  }
  /** Sends one; what is refused keeps the reason. */
  async function attempt(act: Waiting, merges = MOST_MERGES): Promise<'sent' | 'refused' | 'cut'> {
    try {
      settle(act, await send(act))
      return 'sent'
    } catch (error) {
      const problem = problemOf(error)
      isCut.value = isUnanswered(problem)
      if (isCut.value) {
        return 'cut'
      }
      const merged = problem.type.endsWith('stale-version') && merges > 0 ? await merge(act).catch(() => null) : null
      return merged ? goOn(act, merged, merges - 1) : refuse(act, problem.detail)
    }
  }
  /** Sends what still fits of an act; what does not stays, behind it. */
  async function goOn(act: Waiting, { fits, rest }: Merged, merges: number): Promise<'sent' | 'refused' | 'cut'> {
    if (!fits) {
      return refuse(act, rest?.reason ?? '')
    }
    const fitting = { ...act, ...fits }
    const left: Waiting[] = rest
      ? [{ ...act, key: crypto.randomUUID(), summary: rest.summary, refused: rest.reason }]
      : []
    waiting.value = waiting.value.flatMap((candidate) => (candidate.key === act.key ? [fitting, ...left] : [candidate]))
    return attempt(fitting, merges)
  }
  /** Sends all in their order, until the connection is cut; what was refused holds up its document. */
  async function sendAll(): Promise<void> {
    const held = new Set<string>()
    for (const { key } of [...waiting.value]) {
      // As it stands by now: an answer before it may have told it a newer version.
      const act = waiting.value.find((candidate) => candidate.key === key)
      if (!act) {
        continue
      }
      const isHeld = act.refused !== undefined || held.has(act.document)
      const outcome = isHeld ? 'refused' : await attempt(act)
      if (outcome === 'cut') {
        return
      }
      if (outcome === 'refused') {
        held.add(act.document)
      }
    }
  }
  async function flush(): Promise<void> {
    if (isSending) {
      return
    }
    isSending = true
    try {
      await sendAll()
    } finally {
      isSending = false
    }
  }

  /** Keeps an act, then tries to send it. */
  async function put(act: Omit<Waiting, 'key' | 'at'>): Promise<void> {
    // Whatever waits on the same document changes the version before this one comes to it.
    waiting.value = [...waiting.value, { ...act, key: crypto.randomUUID(), at: new Date().toISOString() }]
    await flush()
  }
  const drop = (key: string): void => {
    waiting.value = waiting.value.filter((act) => act.key !== key)
  }
  useEventListener('online', () => void flush())
  useEventListener('offline', () => {
    isCut.value = true
  })
  useIntervalFn(() => {
    if (waiting.value.some((act) => act.refused === undefined)) {
      void flush()
    }
  }, TRY_EVERY)
  return { waiting, isCut, put, flush, drop }
}
