import { useEventListener, watchDebounced } from '@vueuse/core'

interface Kept {
  readonly at: string
  readonly state: string
}

/** Typing is kept this long after the last key, in milliseconds. */
const PAUSE = 200

/**
 * Keeps what is typed into a new form in the browser, so that it survives Back, a closed tab, a lost session and a
 * restart; whoever comes back goes on with it, and is told so.
 *
 * `name`: which form it is, one draft of it a person. `begin`: false where the form came filled in, which no draft may
 * cover.
 */
export function useDraft<T>(name: string, form: { read(): T; write(state: T): void }, begin = true) {
  const session = useSession()
  const key = `tsumiki-draft-${session.person?.id ?? 0}-${name}`
  const blank = JSON.stringify(form.read())
  /** When what is shown was typed; null where it was not brought back. */
  const since = ref<string | null>(null)
  let isDone = false

  function keep(): void {
    const state = JSON.stringify(form.read())
    if (isDone || state === blank) {
      localStorage.removeItem(key)
    } else {
      localStorage.setItem(key, JSON.stringify({ at: new Date().toISOString(), state } satisfies Kept))
    }
  }
  function bringBack(): void {
    try {
      const kept = JSON.parse(localStorage.getItem(key) ?? 'null') as Kept | null
      if (kept) {
        form.write(JSON.parse(kept.state) as T)
        since.value = kept.at
      }
    } catch {
      localStorage.removeItem(key)
    }
  }
  /** What was typed is saved, or is wanted no more. */
  function discard(): void {
    isDone = true
    localStorage.removeItem(key)
  }
  function beginAnew(): void {
    form.write(JSON.parse(blank) as T)
    since.value = null
    localStorage.removeItem(key)
  }
  if (begin) {
    bringBack()
    watchDebounced(() => JSON.stringify(form.read()), keep, { debounce: PAUSE })
    useEventListener('pagehide', keep)
    onBeforeUnmount(keep)
  }
  return { since, discard, beginAnew }
}

/** A draft of a document with a head and lines. */
export const useDocumentDraft = <Head extends object, Line>(
  name: string,
  head: Head,
  lines: Ref<Line[]>,
  begin = true,
) =>
  useDraft(
    name,
    {
      read: () => ({ head: { ...head }, lines: lines.value }),
      write: (state) => {
        Object.assign(head, state.head)
        lines.value = state.lines
      },
    },
    begin,
  )
