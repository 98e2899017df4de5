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
    detail: 'Tsumiki did not answer. Check that it is running, then try again; nothing was changed.',
  }
}

/**
 * One act that can be refused: its busy state, the sentence, and a sentence for each field.
 *
 * `key` is the same until the act has succeeded, so that sending it twice counts once. While it is busy a second act is passed
 * over; with `latest` (questions, which change nothing) it goes out all the same, and only the answer to the last one counts.
 */
export function useAct({ latest = false } = {}) {
  const busy = ref(false)
  const detail = ref('')
  const code = ref('')
  const fields = ref<Record<string, string>>({})
  const key = ref<string>(crypto.randomUUID())
  let turn = 0

  function clear(): void {
    detail.value = ''
    code.value = ''
    fields.value = {}
  }
  async function run<T>(act: (key: string) => Promise<T>): Promise<T | null> {
    if (busy.value && !latest) {
      return null
    }
    const mine = ++turn
    busy.value = true
    clear()
    try {
      const answer = await act(key.value)
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
      return null
    } finally {
      if (mine === turn) {
        busy.value = false
      }
    }
  }
  return { busy, detail, code, fields, run, clear }
}
