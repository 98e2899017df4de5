import type { FetchError } from 'ofetch'

interface Problem { title: string, detail: string, fields?: Record<string, string>, type: string }

/** The problem that a refused request carries, in words for people. */
export function problemOf(error: unknown): Problem {
  const { data } = error as FetchError<Problem>
  if (data?.detail) return data
  return { type: 'offline', title: 'No answer', detail: 'Tsumiki did not answer. Check that it is running, then try again; nothing was changed.' }
}

/**
 * One act that can be refused: its busy state, the sentence, and a sentence for each field.
 *
 * `key` is the same until the act has succeeded, so that sending it twice counts once.
 */
export function useAct() {
  const busy = ref(false)
  const detail = ref('')
  const code = ref('')
  const fields = ref<Record<string, string>>({})
  const key = ref<string>(crypto.randomUUID())

  function clear(): void { detail.value = ''; code.value = ''; fields.value = {} }
  async function run<T>(act: (key: string) => Promise<T>): Promise<T | null> {
    if (busy.value) return null
    busy.value = true
    clear()
    try {
      const answer = await act(key.value)
      key.value = crypto.randomUUID()
      return answer
    }
    catch (error) {
      const problem = problemOf(error)
      detail.value = problem.detail
      code.value = problem.type.split(':').at(-1) ?? ''
      fields.value = problem.fields ?? {}
      return null
    }
    finally { busy.value = false }
  }
  return { busy, detail, code, fields, run, clear }
}
