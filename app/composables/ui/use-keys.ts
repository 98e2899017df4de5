import { onKeyStroke } from '@vueuse/core'

export interface PageKey {
  readonly key: string
  readonly summary: string
  readonly act: () => void
}

/** Each part of the page may have keys of its own; the part that was there first has a key that two of them want. */
const groups = shallowRef<readonly (readonly PageKey[])[]>([])
const firstOf = (key: string): PageKey | undefined => groups.value.flat().find((entry) => entry.key === key)
export const usePageKeys = () => computed(() => groups.value.flat().filter((entry) => firstOf(entry.key) === entry))

export const isTyping = (): boolean => {
  const focused = document.activeElement
  return (
    focused instanceof HTMLElement &&
    (focused.isContentEditable ||
      ['INPUT', 'TEXTAREA'].includes(focused.tagName) ||
      focused.closest('[role=dialog],[role=listbox],[aria-haspopup=listbox]') !== null)
  )
}

/** A scanner types faster than any hand: its keys follow each other within so many milliseconds … */
export const SCANNED_WITHIN_MS = 80
/** … and are at least so many. Fewer are shortcuts, however fast they were pressed. */
export const LEAST_CODE = 4

let last = -Infinity
let burst = 0
let wanted: (() => unknown)[] = []
let waiting: ReturnType<typeof setTimeout> | undefined
/** What was pressed is done in its order, until it leads to another page: there, keys mean something else. */
async function settle(): Promise<void> {
  const acts = burst < LEAST_CODE ? wanted : []
  const page = location.pathname
  wanted = []
  for (const act of acts) {
    if (location.pathname === page) {
      await act()
    }
  }
}
if (typeof window !== 'undefined') {
  window.addEventListener(
    'keydown',
    (event) => {
      // Escape, an arrow or a key that is pressed with Ctrl belongs to no code.
      if (event.key.length > 1 || event.ctrlKey || event.metaKey || event.altKey) {
        return
      }
      if (event.timeStamp - last >= SCANNED_WITHIN_MS) {
        burst = 0
      }
      burst++
      last = event.timeStamp
      if (waiting !== undefined) {
        clearTimeout(waiting)
        waiting = setTimeout(() => void settle(), SCANNED_WITHIN_MS + 10)
      }
    },
    true,
  )
}

/** Does what a key asks for, unless it turns out to be part of a scan. */
export function unlessScanned(act: () => unknown): void {
  wanted.push(act)
  clearTimeout(waiting)
  waiting = setTimeout(() => void settle(), SCANNED_WITHIN_MS + 10)
}

/** Keys of a part of the page that is open; `?` lists them. They rest while something is typed. */
export function useKeys(keys: readonly PageKey[]): void {
  onMounted(() => {
    groups.value = [...groups.value, keys]
  })
  onUnmounted(() => {
    groups.value = groups.value.filter((group) => group !== keys)
  })
  for (const entry of keys) {
    onKeyStroke(entry.key, (event) => {
      if (isTyping() || event.ctrlKey || event.metaKey || event.altKey || firstOf(entry.key) !== entry) {
        return
      }
      event.preventDefault()
      unlessScanned(entry.act)
    })
  }
}
