import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'

/** An act that has not been answered yet. `document` names what it changes: acts on one document go out in their order. */
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

const TRY_EVERY = 4000

/**
 * Acts that must not be lost when the connection drops: each is kept in the browser before it is sent, sent again until it is
 * answered, and counts once, because its key stays the same.
 *
 * An act that the server refuses stays, with the reason, until a person takes it out; what waits behind it on the same document waits.
 * The version that an act has seen follows the answers to those before it.
 */
export function useOutbox(
  send: (act: Waiting) => Promise<Answer> = (act) =>
    $fetch<Answer>(act.url, { method: 'POST', body: { ...act.body, key: act.key } }),
  said: (act: Waiting, answer: Answer) => void = () => undefined,
) {
  const waiting = useLocalStorage<Waiting[]>('tsumiki-outbox', [])
  const isCut = ref(false)
  let isSending = false

  async function flush(): Promise<void> {
    if (isSending) {
      return
    }
    isSending = true
    try {
      const held = new Set<string>()
      for (const { key } of [...waiting.value]) {
        // As it stands by now: an answer before it may have told it a newer version.
        const act = waiting.value.find((candidate) => candidate.key === key)
        if (!act) {
          continue
        }
        if (act.refused !== undefined || held.has(act.document)) {
          held.add(act.document)
          continue
        }
        try {
          const answer = await send(act)
          isCut.value = false
          waiting.value = waiting.value
            .filter((candidate) => candidate.key !== act.key)
            .map((candidate) =>
              candidate.document === act.document && answer.version !== undefined
                ? { ...candidate, body: { ...candidate.body, version: answer.version } }
                : candidate,
            )
          said(act, answer)
        } catch (error) {
          const problem = problemOf(error)
          held.add(act.document)
          if (problem.type === 'offline') {
            isCut.value = true
            break
          }
          isCut.value = false
          waiting.value = waiting.value.map((candidate) =>
            candidate.key === act.key ? { ...candidate, refused: problem.detail } : candidate,
          )
        }
      }
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
