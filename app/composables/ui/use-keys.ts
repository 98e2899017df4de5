import { onKeyStroke } from '@vueuse/core'

export interface PageKey {
  readonly key: string
  readonly summary: string
  readonly act: () => void
}

const pageKeys = shallowRef<readonly PageKey[]>([])
export const usePageKeys = () => pageKeys

export const isTyping = (): boolean => {
  const focused = document.activeElement
  return (
    focused instanceof HTMLElement &&
    (focused.isContentEditable ||
      ['INPUT', 'TEXTAREA'].includes(focused.tagName) ||
      focused.closest('[role=dialog],[role=listbox],[aria-haspopup=listbox]') !== null)
  )
}

// A scanner types faster than any hand: keys that follow each other so are a code, and none of them is a command.
const SCANNED = 80
let last = -Infinity
let gap = Infinity
let waiting: ReturnType<typeof setTimeout> | undefined
if (typeof window !== 'undefined') {
  window.addEventListener(
    'keydown',
    (event) => {
      gap = event.timeStamp - last
      last = event.timeStamp
      clearTimeout(waiting)
    },
    true,
  )
}

/** Does what a key asks for, unless it turns out to be part of a scan. */
export function unlessScanned(act: () => void): void {
  if (gap < SCANNED) {
    return
  }
  waiting = setTimeout(act, SCANNED + 10)
}

/** Keys of the page that is open; `?` lists them. They rest while something is typed. */
export function useKeys(keys: readonly PageKey[]): void {
  onMounted(() => {
    pageKeys.value = keys
  })
  onUnmounted(() => {
    if (pageKeys.value === keys) {
      pageKeys.value = []
    }
  })
  for (const { key, act } of keys) {
    onKeyStroke(key, (event) => {
      if (isTyping() || event.ctrlKey || event.metaKey || event.altKey) {
        return
      }
      event.preventDefault()
      unlessScanned(act)
    })
  }
}
