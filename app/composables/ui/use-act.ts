import type { Problem } from '~~/shared/problem'
import type { FetchError } from 'ofetch'

/** The problem that a refused request carries, in words for people. */
export function problemOf(error: unknown): Problem {
  const { data } = error as FetchError<Problem>
  if (data?.detail) {
    return data
  }
  return {
    type: 'offline',
    title: 'No answer',
    status: 0,
    detail: 'Tsumiki did not answer. What you did may have been saved: reload the page before you do it again.',
  }
}

const unanswered = (detail: string) => ({ data: { type: 'offline', title: 'No answer', status: 0, detail } })
const NOT_RECORDED = unanswered('The answer did not come, and it was not recorded. Try again.')
const MAYBE_RECORDED = unanswered(
  'Tsumiki does not answer. It may have been recorded: press again once Tsumiki runs, with the same figures, and it counts once.',
)

/** Nobody answered, or only that the database does not: what was asked may have been done. */
export const isUnanswered = ({ type }: Problem): boolean => type === 'offline' || type === 'urn:tsumiki:unavailable'

/** How long Tsumiki is given to come back, in milliseconds from one question to the next. */
const WAITS = [0, 1000, 3000]

/** Asks what became of an act; null where nobody answers. */
async function askLater<T>(key: string): Promise<{ recorded: true; answer: T } | { recorded: false } | null> {
  for (const wait of WAITS) {
    await new Promise((resolve) => setTimeout(resolve, wait))
    try {
      return await $fetch<{ recorded: true; answer: T } | { recorded: false }>(`/api/company/acts/${key}`)
    } catch (error) {
      if (!isUnanswered(problemOf(error))) {
        return null
      }
    }
  }
  return null
}

/**
 * One act that can be refused: its busy state, the sentence, and a sentence for each field.
 *
 * `key` is the same until the act has succeeded, so that sending it twice counts once. While it is busy a second act is
 * passed over; with `latest` (questions, which change nothing) it goes out all the same, and only the answer to the
 * last one counts.
 */
export function useAct({ latest = false } = {}) {
  const busy = ref(false)
  const detail = ref('')
  const code = ref('')
  const fields = ref<Record<string, string>>({})
  /** What a yes would change elsewhere, where the act waits for one. */
  const effects = ref<readonly string[]>([])
  const key = ref<string>(crypto.randomUUID())
  let turn = 0

  function clear(): void {
    detail.value = ''
    code.value = ''
    fields.value = {}
    effects.value = []
  }
  /** The answer to an act. Where it did not come, Tsumiki is asked by the act’s key what became of it. */
  async function answerOf<T>(act: (key: string) => Promise<T>): Promise<T> {
    try {
      return await act(key.value)
    } catch (error) {
      const hasKey = act.length > 0
      if (!hasKey || !isUnanswered(problemOf(error))) {
        throw error
      }
      const found = await askLater<T>(key.value)
      if (found?.recorded) {
        return found.answer
      }
      throw found ? NOT_RECORDED : MAYBE_RECORDED
    }
  }
  async function run<T>(act: (key: string) => Promise<T>): Promise<T | null> {
    if (busy.value && !latest) {
      return null
    }
    const mine = ++turn
    busy.value = true
    clear()
    try {
      const answer = await answerOf(act)
      if (mine !== turn) {
        return null
      }
      key.value = crypto.randomUUID()
      return answer
    } catch (error) {
      if (mine !== turn) {
        return null
      }
      const problem = problemOf(error)
      detail.value = problem.detail
      code.value = problem.type.split(':').at(-1) ?? ''
      fields.value = problem.fields ?? {}
      effects.value = problem.effects ?? []
      return null
    } finally {
      if (mine === turn) {
        busy.value = false
      }
    }
  }
  return { busy, detail, code, fields, effects, run, clear }
}
