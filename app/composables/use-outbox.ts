import { useEventListener, useIntervalFn, useLocalStorage } from '@vueuse/core'

/** An act that has not been answered yet. `document` names what it changes: acts on one document go out in their order. */
export interface Waiting {
  readonly key: string
  readonly url: string
  readonly body: Record<string, unknown>
  readonly document: string
  readonly says: string
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
  send: (one: Waiting) => Promise<Answer> = (one) =>
    $fetch<Answer>(one.url, { method: 'POST', body: { ...one.body, key: one.key } }),
  said: (one: Waiting, answer: Answer) => void = () => undefined,
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
        const one = waiting.value.find((other) => other.key === key)
        if (!one) {
          continue
        }
        if (one.refused !== undefined || held.has(one.document)) {
          held.add(one.document)
          continue
        }
        try {
          const answer = await send(one)
          isCut.value = false
          waiting.value = waiting.value
            .filter((other) => other.key !== one.key)
            .map((other) =>
              other.document === one.document && answer.version !== undefined
                ? { ...other, body: { ...other.body, version: answer.version } }
                : other,
            )
          said(one, answer)
        } catch (error) {
          const problem = problemOf(error)
          held.add(one.document)
          if (problem.type === 'offline') {
            isCut.value = true
            break
          }
          isCut.value = false
          waiting.value = waiting.value.map((other) =>
            other.key === one.key ? { ...other, refused: problem.detail } : other,
          )
        }
      }
    } finally {
      isSending = false
    }
  }

  /** Keeps an act, then tries to send it. */
  async function put(one: Omit<Waiting, 'key' | 'at'>): Promise<void> {
    // Whatever waits on the same document changes the version before this one comes to it.
    waiting.value = [...waiting.value, { ...one, key: crypto.randomUUID(), at: new Date().toISOString() }]
    await flush()
  }
  const drop = (key: string): void => {
    waiting.value = waiting.value.filter((one) => one.key !== key)
  }
  useEventListener('online', () => void flush())
  useEventListener('offline', () => {
    isCut.value = true
  })
  useIntervalFn(() => {
    if (waiting.value.some((one) => one.refused === undefined)) {
      void flush()
    }
  }, TRY_EVERY)
  return { waiting, isCut, put, flush, drop }
}
